package ironsieve.traffic.view;

import java.time.LocalDateTime;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What to look at.
 *
 * @param only for some of what there is the values wanted
 * @param from nothing before this; null for no bound
 * @param to nothing from this on; null for no bound
 */
public record Narrowing(Map<By, Set<String>> only, LocalDateTime from, LocalDateTime to) {

  /** All of it. */
  public static final Narrowing NONE = new Narrowing(Map.of(), null, null);

  public Narrowing {
    only = Map.copyOf(only);
  }

  /**
   * What {@code application:Chatterbay} and its like narrow to.
   *
   * @param only each a {@link By#word}, a colon and a value; several values of one are either
   * @throws IllegalArgumentException saying which is none, and what is right
   */
  public static Map<By, Set<String>> wanted(List<String> only) {
    Map<By, Set<String>> wanted = new LinkedHashMap<>();
    for (String one : only) {
      int colon = one.indexOf(':');
      if (colon < 0) {
        throw new IllegalArgumentException(
            "what to narrow to is written application:NAME, not \"" + one + "\"");
      }
      wanted
          .computeIfAbsent(By.demand(one.substring(0, colon)), by -> new HashSet<>())
          .add(one.substring(colon + 1));
    }
    return wanted;
  }
}
