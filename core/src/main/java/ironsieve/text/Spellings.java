package ironsieve.text;

import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Names of one kind, found by the place of a text where one stands; capitals make no difference.
 */
final class Spellings {

  private final Set<String> all;
  private final Map<String, String> byKey = new HashMap<>();
  private int longest;

  Spellings(Collection<String> names) {
    all = new LinkedHashSet<>(names);
    for (String name : all) {
      byKey.putIfAbsent(key(name), name);
      longest = Math.max(longest, name.length());
    }
  }

  /** All of them, each once, in their order. */
  Set<String> all() {
    return all;
  }

  /** The one that reads like a text. */
  Optional<String> like(String text) {
    return Optional.ofNullable(byKey.get(key(text)));
  }

  /**
   * The longest that stands at a place.
   *
   * @param after the characters that one may go before, beside the end of the text
   */
  Optional<String> at(String text, int at, String after) {
    for (int end = Math.min(text.length(), at + longest); end > at; end--) {
      if (end == text.length() || after.indexOf(text.charAt(end)) >= 0) {
        String found = byKey.get(key(text.substring(at, end)));
        if (found != null) {
          return Optional.of(found);
        }
      }
    }
    return Optional.empty();
  }

  /** As long as the name, for a place in a text is told by it. */
  private static String key(String name) {
    StringBuilder key = new StringBuilder(name.length());
    for (int i = 0; i < name.length(); i++) {
      key.append(Character.toLowerCase(Character.toUpperCase(name.charAt(i))));
    }
    return key.toString();
  }
}
