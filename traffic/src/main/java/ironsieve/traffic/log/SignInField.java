package ironsieve.traffic.log;

import java.util.EnumMap;
import java.util.List;
import java.util.Map;

/** What a line of a list of sign-ins can say, with the names that columns commonly have for it. */
public enum SignInField {
  TIME("time", "timestamp", "date", "start", "at", "eventtime", "logintime", "since", "ts"),
  ADDRESS(
      "address",
      "ip",
      "ipaddress",
      "src",
      "srcip",
      "sourceip",
      "sourceaddress",
      "clientip",
      "clientaddress",
      "framedipaddress",
      "framedipv6address",
      "assignedip"),
  PERSON("person", "user", "username", "login", "account", "name"),
  DEVICE("device", "devicekind", "devicetype"),
  UNTIL("until", "end", "logout", "logouttime", "expires", "stop"),
  EVENT("event", "action", "acctstatustype", "status", "type");

  private final List<String> names;

  SignInField(String... names) {
    this.names = List.of(names);
  }

  /** The word for it. */
  public String word() {
    return names.get(0);
  }

  /** Which column says what, by their names; each column one thing. */
  public static Map<SignInField, String> guess(List<String> columns) {
    Map<SignInField, String> guessed = new EnumMap<>(SignInField.class);
    for (SignInField field : values()) {
      columns.stream()
          .filter(column -> field.names.contains(LogField.bare(column)))
          .filter(column -> !guessed.containsValue(column))
          .findFirst()
          .ifPresent(column -> guessed.put(field, column));
    }
    return guessed;
  }
}
