package ironsieve.traffic.log;

import java.time.ZoneId;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Which column says what.
 *
 * @param columns the name of the column for each field that has one; or, where none says it, {@code
 *     =} and a value that all lines have, such as {@code =tcp}
 * @param zone in which times stand that say no offset
 */
public record LogMapping(Map<LogField, String> columns, ZoneId zone) {

  /** What stands before a value that all lines have, in place of the name of a column. */
  public static final String CONSTANT = "=";

  /** The value of all lines, where a mapping says one in place of a column; empty otherwise. */
  public static Optional<String> constant(String column) {
    return column.startsWith(CONSTANT)
        ? Optional.of(column.substring(CONSTANT.length()))
        : Optional.empty();
  }

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
