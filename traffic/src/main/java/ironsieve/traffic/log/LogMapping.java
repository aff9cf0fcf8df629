package ironsieve.traffic.log;

import java.time.ZoneId;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Which column says what.
 *
 * @param columns the name of the column for each field that has one
 * @param zone in which times stand that say no offset
 */
public record LogMapping(Map<LogField, String> columns, ZoneId zone) {

  public LogMapping {
    columns = Map.copyOf(columns);
  }

  /**
   * What the names of columns suggest; each column for one field, the first that it is named for.
   */
  public static LogMapping guess(List<String> names, ZoneId zone) {
    Map<LogField, String> columns = new EnumMap<>(LogField.class);
    Set<String> taken = new HashSet<>();
    for (LogField field : LogField.values()) {
      names.stream()
          .filter(name -> field.isNamed(name) && !taken.contains(name))
          .findFirst()
          .ifPresent(
              name -> {
                columns.put(field, name);
                taken.add(name);
              });
    }
    return new LogMapping(columns, zone);
  }

  /** The fields that every record needs and no column says. */
  public List<LogField> missing() {
    return java.util.stream.Stream.of(LogField.TIME, LogField.FROM, LogField.TO)
        .filter(field -> !columns.containsKey(field))
        .toList();
  }
}
