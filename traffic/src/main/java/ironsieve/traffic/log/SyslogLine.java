package ironsieve.traffic.log;

import ironsieve.traffic.tape.TrafficRecord;
import java.time.DateTimeException;
import java.time.ZoneId;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * A message of RFC 5424 whose structured data has an element {@code connection@32473} with the
 * fields of a record: {@code [connection@32473 from="10.20.0.7" to="203.0.113.9" service="tcp/443"
 * person="ada" bytesUp="1200" …]}. The number is the one that RFC 5612 keeps for examples; what
 * stands before the {@code @} is what counts. The time of the message is the record's, where that
 * says none.
 */
public final class SyslogLine {

  private static final String CONNECTION = "connection";
  private static final String DECISION = "decision";
  private static final int LONGEST = 65_536;

  private SyslogLine() {}

  /** Thrown for a message that is none of these; the message says where. */
  public static final class SyslogException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    SyslogException(int at, String message) {
      super("column " + (at + 1) + ": " + message);
    }
  }

  /**
   * Reads one message.
   *
   * @throws SyslogException if it is no message, or says nothing about a connection
   * @throws LogRecords.FieldException naming a field of it that cannot be read
   */
  public static TrafficRecord parse(String line, ZoneId zone) {
    Message message = read(line);
    Map<String, String> connection = message.elements().get(CONNECTION);
    if (connection == null) {
      throw new SyslogException(
          message.end(),
          "there is no structured data [connection@32473 from=\"…\" to=\"…\" …] in it");
    }
    Map<LogField, String> said = new EnumMap<>(LogField.class);
    connection.forEach(
        (name, value) -> LogField.named(name).ifPresent(f -> said.putIfAbsent(f, value)));
    if (!said.containsKey(LogField.TIME) && !message.time().equals("-")) {
      said.put(LogField.TIME, message.time());
    }
    return LogRecords.of(said, zone);
  }

  /**
   * A message with what its structured data says.
   *
   * @param elements parameters by the words before the {@code @} of their elements
   * @param end where the structured data ends
   */
  private record Message(String time, Map<String, Map<String, String>> elements, int end) {}

  private static Message read(String line) {
    if (line.length() > LONGEST) {
      throw new SyslogException(LONGEST, "a message has at most " + LONGEST + " letters");
    }
    int at = header(line);
    String time = line.substring(0, at).split(" ")[1];
    Map<String, Map<String, String>> elements = new HashMap<>();
    while (at < line.length() && line.charAt(at) == '[') {
      int end = idEnd(line, at + 1);
      String[] id = line.substring(at + 1, end).split("@", 2);
      at = element(line, end, elements.computeIfAbsent(id[0], one -> new LinkedHashMap<>()));
    }
    return new Message(time, elements, at);
  }

  /** Whether a message tells of a connection, and not only what was decided. */
  public static boolean tellsConnection(String line) {
    return read(line).elements().containsKey(CONNECTION);
  }

  /**
   * What a gateway decided, where a message says it: {@code [decision@32473 release="12"
   * verdict="deny" rule="r17" client="49152" probe="from …"]}.
   *
   * @throws SyslogException if it is no message, or a parameter is missing or none
   */
  public static Optional<LoggedDecision> decision(String line, ZoneId zone) {
    Message message = read(line);
    Map<String, String> said = message.elements().get(DECISION);
    if (said == null) {
      return Optional.empty();
    }
    try {
      return Optional.of(LoggedDecision.of(message.time(), said, zone));
    } catch (IllegalArgumentException | DateTimeException e) {
      throw new SyslogException(message.end(), "the decision cannot be read: " + e.getMessage());
    }
  }

  /**
   * Where the structured data begins: behind priority, version, time, host, program, process, id.
   */
  private static int header(String line) {
    int close = line.indexOf('>');
    if (!line.startsWith("<") || close < 2 || close > 4) {
      throw new SyslogException(
          0, "a message begins with its priority and version, such as <134>1");
    }
    int at = 0;
    for (int field = 0; field < 6; field++) {
      int end = line.indexOf(' ', at);
      if (end < 0) {
        throw new SyslogException(
            line.length(), "a message has six words before its structured data");
      }
      if (end == at) {
        throw new SyslogException(at, "a word is missing here; - stands for none");
      }
      at = end + 1;
    }
    if (!line.substring(close + 1).matches("(?s)[1-9]\\d{0,2} .*")) {
      throw new SyslogException(close + 1, "the version stands here, such as 1");
    }
    return at;
  }

  private static int idEnd(String line, int from) {
    int at = from;
    while (at < line.length() && line.charAt(at) != ' ' && line.charAt(at) != ']') {
      at++;
    }
    return at;
  }

  /** Reads the parameters of an element; returns what follows its closing bracket. */
  private static int element(String line, int from, Map<String, String> said) {
    int at = from;
    while (at < line.length() && line.charAt(at) == ' ') {
      int equals = line.indexOf('=', at);
      if (equals < 0 || equals + 1 >= line.length() || line.charAt(equals + 1) != '"') {
        throw new SyslogException(at, "a parameter is written name=\"value\"");
      }
      String name = line.substring(at + 1, equals);
      StringBuilder value = new StringBuilder();
      at = equals + 2;
      while (at < line.length() && line.charAt(at) != '"') {
        if (line.charAt(at) == '\\' && at + 1 < line.length()) {
          at++;
        }
        value.append(line.charAt(at++));
      }
      if (at >= line.length()) {
        throw new SyslogException(equals + 1, "the value has no closing quote");
      }
      at++;
      said.putIfAbsent(name, value.toString());
    }
    if (at >= line.length() || line.charAt(at) != ']') {
      throw new SyslogException(at, "an element ends with ]");
    }
    return at + 1;
  }
}
