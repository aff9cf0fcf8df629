package ironsieve.traffic.log;

import ironsieve.model.Connection.Device;
import ironsieve.model.Posture;
import ironsieve.model.Service;
import ironsieve.model.Tape.Volume;
import ironsieve.region.Address;
import ironsieve.traffic.tape.TrafficRecord;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * Records out of the texts of fields. Remembers what texts stand for: a log of millions of lines
 * names the same addresses and services again and again. For one thread.
 */
public final class LogRecords {

  private static final List<DateTimeFormatter> TIMES =
      java.util.stream.Stream.of(
              "yyyy-MM-dd'T'HH:mm[:ss][.SSSSSSSSS][.SSSSSS][.SSS]",
              "yyyy-MM-dd HH:mm[:ss][.SSSSSSSSS][.SSSSSS][.SSS]",
              "yyyy/MM/dd HH:mm[:ss]",
              "dd.MM.yyyy HH:mm[:ss]",
              "dd/MMM/yyyy:HH:mm:ss")
          .map(pattern -> DateTimeFormatter.ofPattern(pattern, Locale.ROOT))
          .toList();

  private static final long SECONDS_END = 100_000_000_000L;
  private static final long MILLIS_END = 100_000_000_000_000L;
  private static final int LONGEST = 2_000;
  private static final String PLAIN = "0000-00-00T00:00:00";

  /** So many texts are remembered. */
  private static final int REMEMBERED = 1_000_000;

  private final ZoneId zone;
  private final Map<String, Address> addresses = new HashMap<>();
  private final Map<String, Service> services = new HashMap<>();

  /**
   * A reader.
   *
   * @param zone in which times stand that say no offset, and the local time of the records
   */
  public LogRecords(ZoneId zone) {
    this.zone = zone;
  }

  /**
   * Thrown for a text of a field that cannot be read; the message says which, and what is right.
   */
  public static final class FieldException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    FieldException(LogField field, String message) {
      super(field.word() + ": " + message);
    }
  }

  /**
   * A record of what a line says.
   *
   * @param said the text of a field; nothing where the line does not say it
   * @throws FieldException naming the field
   */
  public TrafficRecord of(Function<LogField, Optional<String>> said) {
    Function<LogField, Optional<String>> field =
        of ->
            said.apply(of).map(String::strip).filter(text -> !text.isEmpty() && !text.equals("-"));
    LocalDateTime at =
        time(field.apply(LogField.TIME).orElseThrow(() -> missing(LogField.TIME)), zone);
    TrafficRecord.Ends ends =
        new TrafficRecord.Ends(
            address(LogField.FROM, field), address(LogField.TO, field), service(field));
    Optional<String> person = field.apply(LogField.PERSON);
    boolean isNobody = person.filter("unidentified"::equalsIgnoreCase).isPresent();
    Optional<String> host = field.apply(LogField.HOST).map(LogRecords::host);
    Optional<String> application = field.apply(LogField.APPLICATION);
    String[] parts = application.orElse("").split("/", 2);
    return new TrafficRecord(
        at,
        ends,
        new TrafficRecord.Who(
            isNobody ? Optional.empty() : person,
            isNobody,
            field.apply(LogField.DEVICE).map(kind -> new Device(kind, Posture.UNKNOWN))),
        new TrafficRecord.What(
            host,
            host.isPresent(),
            application.map(name -> parts[0]),
            field
                .apply(LogField.FEATURE)
                .or(() -> parts.length > 1 ? Optional.of(parts[1]) : Optional.empty()),
            Optional.empty(),
            Optional.empty()),
        number(LogField.COUNT, field).orElse(1L),
        new Volume(
            number(LogField.BYTES_UP, field).orElse(0L),
            number(LogField.BYTES_DOWN, field).orElse(0L)));
  }

  private static FieldException missing(LogField field) {
    return new FieldException(field, "nothing is said");
  }

  /** A time as logs write it: ISO 8601, a few others, or seconds since 1970. */
  static LocalDateTime time(String text, ZoneId zone) {
    if (text.length() > LONGEST) {
      throw new FieldException(LogField.TIME, "this is no time");
    }
    Optional<LocalDateTime> plain = plainTime(text);
    if (plain.isPresent()) {
      return plain.get();
    }
    if (text.matches("\\d{9,16}(\\.\\d+)?")) {
      long whole = Long.parseLong(text.split("\\.")[0]);
      long millis =
          whole < SECONDS_END ? whole * 1_000 : whole < MILLIS_END ? whole : whole / 1_000;
      return LocalDateTime.ofInstant(Instant.ofEpochMilli(millis), zone);
    }
    try {
      return LocalDateTime.ofInstant(OffsetDateTime.parse(text).toInstant(), zone);
    } catch (DateTimeException e) {
      // It says no offset.
    }
    for (DateTimeFormatter format : TIMES) {
      try {
        return LocalDateTime.parse(text.replaceFirst(" ?[+-]\\d{4}$", ""), format);
      } catch (DateTimeException e) {
        // Another way of writing it.
      }
    }
    throw new FieldException(
        LogField.TIME, "\"" + text + "\" is no time, such as 2026-11-02T09:30:00Z or 1793608200");
  }

  /** What most logs write, {@code 2026-11-02T09:30:15} or the same with a space. */
  private static Optional<LocalDateTime> plainTime(String text) {
    if (text.length() != PLAIN.length()) {
      return Optional.empty();
    }
    for (int i = 0; i < PLAIN.length(); i++) {
      char wanted = PLAIN.charAt(i);
      char c = text.charAt(i);
      boolean fits =
          wanted == '0' ? c >= '0' && c <= '9' : c == wanted || wanted == 'T' && c == ' ';
      if (!fits) {
        return Optional.empty();
      }
    }
    try {
      return Optional.of(
          LocalDateTime.of(
              digits(text, 0, 4),
              digits(text, 5, 7),
              digits(text, 8, 10),
              digits(text, 11, 13),
              digits(text, 14, 16),
              digits(text, 17, 19)));
    } catch (DateTimeException e) {
      return Optional.empty();
    }
  }

  private static int digits(String text, int from, int to) {
    int number = 0;
    for (int i = from; i < to; i++) {
      number = number * 10 + text.charAt(i) - '0';
    }
    return number;
  }

  private Address address(LogField of, Function<LogField, Optional<String>> field) {
    String text = field.apply(of).orElseThrow(() -> missing(of));
    Address known = addresses.get(text);
    if (known == null) {
      known = parsed(of, text);
      if (addresses.size() < REMEMBERED) {
        addresses.put(text, known);
      }
    }
    return known;
  }

  private static Address parsed(LogField of, String text) {
    try {
      return Address.parse(text);
    } catch (IllegalArgumentException e) {
      throw new FieldException(of, e.getMessage());
    }
  }

  private Service service(Function<LogField, Optional<String>> field) {
    String key =
        field.apply(LogField.SERVICE).orElse("")
            + "\n"
            + field.apply(LogField.PROTOCOL).orElse("")
            + "\n"
            + field.apply(LogField.PORT).orElse("");
    Service known = services.get(key);
    if (known == null) {
      known = parsedService(field);
      if (services.size() < REMEMBERED) {
        services.put(key, known);
      }
    }
    return known;
  }

  private static Service parsedService(Function<LogField, Optional<String>> field) {
    Optional<String> whole = field.apply(LogField.SERVICE).filter(text -> text.contains("/"));
    String protocol =
        whole
            .map(text -> text.substring(0, text.indexOf('/')))
            .or(() -> field.apply(LogField.PROTOCOL))
            .orElse("tcp")
            .toLowerCase(Locale.ROOT);
    Optional<String> port =
        whole
            .map(text -> text.substring(text.indexOf('/') + 1))
            .or(() -> field.apply(LogField.PORT));
    int number = protocolNumber(protocol);
    boolean hasPorts = Service.hasPorts(number);
    if (hasPorts && port.isEmpty()) {
      throw missing(LogField.PORT);
    }
    int detail = hasPorts || isIcmp(number) ? port.map(LogRecords::portNumber).orElse(0) : 0;
    return new Service(number, detail);
  }

  private static boolean isIcmp(int protocol) {
    return protocol == Service.ICMP || protocol == Service.ICMPV6;
  }

  private static int protocolNumber(String word) {
    if (word.matches("\\d{1,3}") && Integer.parseInt(word) <= 255) {
      return Integer.parseInt(word);
    }
    return switch (word) {
      case "gre" -> 47;
      case "esp" -> 50;
      case "ipv6-icmp", "icmp6" -> Service.ICMPV6;
      default -> {
        Integer known = Service.PROTOCOLS.get(word);
        if (known == null) {
          throw new FieldException(
              LogField.PROTOCOL, "\"" + word + "\" is no protocol, such as tcp, udp, icmp or 47");
        }
        yield known;
      }
    };
  }

  private static int portNumber(String text) {
    if (!text.matches("\\d{1,5}") || Integer.parseInt(text) > 65_535) {
      throw new FieldException(LogField.PORT, "a port is 0 to 65535, not \"" + text + "\"");
    }
    return Integer.parseInt(text);
  }

  /** The name in an address of the web, or as it stands. */
  private static String host(String text) {
    String bare = text.contains("://") ? text.replaceFirst("^[a-zA-Z]+://", "") : text;
    int end = bare.length();
    for (int i = 0; i < bare.length(); i++) {
      if ("/:?#".indexOf(bare.charAt(i)) >= 0) {
        end = i;
        break;
      }
    }
    return bare.substring(0, end);
  }

  private static Optional<Long> number(LogField of, Function<LogField, Optional<String>> field) {
    return field
        .apply(of)
        .map(
            text -> {
              boolean isNumber =
                  text.length() <= 15 && text.chars().allMatch(c -> c >= '0' && c <= '9');
              if (!isNumber) {
                throw new FieldException(of, "a whole number, not \"" + text + "\"");
              }
              return Math.max(of == LogField.COUNT ? 1 : 0, Long.parseLong(text));
            });
  }

  /** What a line says by the names of fields. */
  public static TrafficRecord of(Map<LogField, String> said, ZoneId zone) {
    return new LogRecords(zone).of(field -> Optional.ofNullable(said.get(field)));
  }
}
