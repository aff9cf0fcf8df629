package ironsieve.traffic.log;

import ironsieve.model.Connection.Device;
import ironsieve.model.Posture;
import ironsieve.model.Service;
import ironsieve.model.Tape.Volume;
import ironsieve.recorded.Minutes;
import ironsieve.region.Address;
import ironsieve.text.PlainText;
import ironsieve.traffic.tape.TrafficRecord;
import java.time.DateTimeException;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Records out of the texts of fields. Remembers what texts stand for: a log of millions of lines
 * names the same addresses and services again and again. For one thread.
 */
public final class LogRecords {

  private static final int LONGEST_NUMBER = 15;
  private static final String PLAIN = "0000-00-00T00:00:00";

  /** So many texts are remembered. */
  private static final int REMEMBERED = 1_000_000;

  private final ZoneId zone;
  private final Map<String, Address> addresses = new HashMap<>();
  private final Map<Carried, Service> services = new HashMap<>();
  private final Map<Named, TrafficRecord.What> names = new HashMap<>();

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

  /** What a line says. */
  @FunctionalInterface
  public interface Line {

    /** The text of a field; null where the line does not say it. */
    String text(LogField field);
  }

  /**
   * A record of what a line says.
   *
   * @throws FieldException naming the field
   */
  public TrafficRecord of(Line line) {
    LocalDateTime at = time(line.text(LogField.TIME));
    Content content = content(line);
    return new TrafficRecord(
        at,
        content.ends(),
        content.who(),
        content.what(),
        times(line.text(LogField.COUNT)),
        new Volume(
            bytes(LogField.BYTES_UP, line.text(LogField.BYTES_UP)),
            bytes(LogField.BYTES_DOWN, line.text(LogField.BYTES_DOWN))));
  }

  /** What a line says apart from when it was written and how much it tells. */
  public record Content(TrafficRecord.Ends ends, TrafficRecord.Who who, TrafficRecord.What what) {}

  /**
   * What a line says apart from when it was written and how much it tells.
   *
   * @throws FieldException naming the field
   */
  public Content content(Line line) {
    return new Content(
        new TrafficRecord.Ends(
            address(LogField.FROM, line), address(LogField.TO, line), service(line)),
        who(text(line, LogField.PERSON), text(line, LogField.DEVICE), text(line, LogField.HEALTH)),
        what(
            new Named(
                text(line, LogField.HOST),
                text(line, LogField.APPLICATION),
                text(line, LogField.FEATURE))));
  }

  /**
   * The local time of a line.
   *
   * @param text as it stands there; null where nothing does
   * @throws FieldException if that is no time
   */
  public LocalDateTime time(String text) {
    String bare = bare(text);
    if (bare == null) {
      throw missing(LogField.TIME);
    }
    return time(bare, zone);
  }

  /**
   * How many connections a line stands for; one where it does not say.
   *
   * @throws FieldException if that is no number
   */
  public static long times(String text) {
    return Math.max(1, number(LogField.COUNT, bare(text), 1));
  }

  /**
   * Bytes of a line; none where it does not say.
   *
   * @throws FieldException if that is no number
   */
  public static long bytes(LogField field, String text) {
    return number(field, bare(text), 0);
  }

  /** What a field says, without the blanks around it; null for nothing. */
  private static String text(Line line, LogField field) {
    return bare(line.text(field));
  }

  private static String bare(String text) {
    if (text == null) {
      return null;
    }
    String bare = text.strip();
    return bare.isEmpty() || bare.equals("-") ? null : bare;
  }

  private static final Set<String> HEALTHY =
      Set.of("healthy", "compliant", "yes", "true", "1", "ok", "pass", "passed");
  private static final Set<String> UNHEALTHY =
      Set.of(
          "unhealthy",
          "noncompliant",
          "non-compliant",
          "not compliant",
          "no",
          "false",
          "0",
          "fail",
          "failed");

  /** The health in a column of its own; unknown where there is none. */
  private static Posture posture(String health) {
    String word = health == null ? "unknown" : health.toLowerCase(Locale.ROOT);
    if (HEALTHY.contains(word)) {
      return Posture.HEALTHY;
    }
    if (UNHEALTHY.contains(word)) {
      return Posture.UNHEALTHY;
    }
    if (word.equals("unknown")) {
      return Posture.UNKNOWN;
    }
    throw new FieldException(
        LogField.HEALTH,
        "\""
            + PlainText.visible(health)
            + "\" is not healthy, unhealthy, compliant, yes, no or unknown");
  }

  /** A device as its columns say it; {@code company laptop, healthy} says both in one. */
  private static Optional<Device> device(String device, String health) {
    if (device == null && health == null) {
      return Optional.empty();
    }
    int comma = device == null ? -1 : device.lastIndexOf(',');
    return comma >= 0 && health == null
        ? Optional.of(
            new Device(
                device.substring(0, comma).strip(), posture(device.substring(comma + 1).strip())))
        : Optional.of(new Device(device == null ? Device.UNKNOWN_KIND : device, posture(health)));
  }

  private static TrafficRecord.Who who(String person, String said, String health) {
    Optional<Device> device = device(said, health);
    if (person == null && device.isEmpty()) {
      return TrafficRecord.Who.UNSAID;
    }
    boolean isNobody = "unidentified".equalsIgnoreCase(person);
    return new TrafficRecord.Who(
        isNobody ? Optional.empty() : Optional.ofNullable(person), isNobody, device);
  }

  /** What names a line says; null where it says none. */
  private record Named(String host, String application, String feature) {}

  private TrafficRecord.What what(Named named) {
    TrafficRecord.What known = names.get(named);
    if (known == null) {
      Optional<String> host = Optional.ofNullable(named.host()).map(LogRecords::host);
      String[] parts = named.application() == null ? null : named.application().split("/", 2);
      String feature =
          named.feature() != null || parts == null || parts.length < 2 ? named.feature() : parts[1];
      known =
          new TrafficRecord.What(
              host,
              host.isPresent(),
              Optional.ofNullable(parts).map(all -> all[0]),
              Optional.ofNullable(feature),
              Optional.empty(),
              Optional.empty());
      if (names.size() < REMEMBERED) {
        names.put(named, known);
      }
    }
    return known;
  }

  private static FieldException missing(LogField field) {
    return new FieldException(field, "nothing is said");
  }

  /** A time as logs write it: see {@link LogTime}. */
  static LocalDateTime time(String text, ZoneId zone) {
    return inRange(plainTime(text).orElseGet(() -> LogTime.parse(text, zone)));
  }

  /**
   * The same time.
   *
   * @throws FieldException if recorded traffic cannot be of that time
   */
  public static LocalDateTime inRange(LocalDateTime time) {
    if (!Minutes.isInRange(time)) {
      throw new FieldException(LogField.TIME, Minutes.RANGE + ", not at " + time);
    }
    return time;
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

  private Address address(LogField of, Line line) {
    String text = text(line, of);
    if (text == null) {
      throw missing(of);
    }
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

  /** What a line says of a service; null where it says nothing. */
  private record Carried(String service, String protocol, String port) {}

  private Service service(Line line) {
    Carried carried =
        new Carried(
            text(line, LogField.SERVICE), text(line, LogField.PROTOCOL), text(line, LogField.PORT));
    Service known = services.get(carried);
    if (known == null) {
      known = service(carried);
      if (services.size() < REMEMBERED) {
        services.put(carried, known);
      }
    }
    return known;
  }

  private static Service service(Carried carried) {
    Optional<String> whole =
        Optional.ofNullable(carried.service()).filter(text -> text.contains("/"));
    String protocol =
        whole
            .map(text -> text.substring(0, text.indexOf('/')))
            .or(() -> Optional.ofNullable(carried.protocol()))
            .orElseThrow(
                () ->
                    new FieldException(
                        LogField.PROTOCOL,
                        "nothing is said; map a column to it, or =tcp where all of it is TCP"))
            .toLowerCase(Locale.ROOT);
    Optional<String> port =
        whole
            .map(text -> text.substring(text.indexOf('/') + 1))
            .or(() -> Optional.ofNullable(carried.port()));
    int number = protocolNumber(protocol);
    boolean hasPorts = Service.hasPorts(number);
    if (hasPorts && port.isEmpty()) {
      throw missing(LogField.PORT);
    }
    if (isIcmp(number) && port.isEmpty()) {
      throw new FieldException(
          LogField.PORT, "the type of an ICMP message is not said, such as icmp/8");
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

  /** A port; a number without a fraction may have been written with one, such as 443.0. */
  private static int portNumber(String text) {
    String whole = text.replaceFirst("\\.0+$", "");
    if (!whole.matches("\\d{1,5}") || Integer.parseInt(whole) > 65_535) {
      throw new FieldException(LogField.PORT, "a port is 0 to 65535, not \"" + text + "\"");
    }
    return Integer.parseInt(whole);
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

  private static long number(LogField of, String text, long unsaid) {
    if (text == null) {
      return unsaid;
    }
    long number = 0;
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      if (c < '0' || c > '9' || text.length() > LONGEST_NUMBER) {
        throw new FieldException(of, "a whole number, not \"" + text + "\"");
      }
      number = number * 10 + c - '0';
    }
    return number;
  }

  /** What a line says by the names of fields. */
  public static TrafficRecord of(Map<LogField, String> said, ZoneId zone) {
    return new LogRecords(zone).of(said::get);
  }
}
