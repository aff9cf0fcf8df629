package ironsieve.text;

import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Field;
import ironsieve.model.Posture;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.region.Address;
import ironsieve.region.Range;
import java.util.Arrays;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Values as text, the same everywhere: on screen, in the API, in the database and in files. For
 * every value {@code parse(kind, print(value))} is that value.
 *
 * <ul>
 *   <li>any kind but zones: {@code set NAME}
 *   <li>network: {@code 10.20.0.7}, {@code 10.20.0.0/16}, {@code 10.20.0.1-10.20.0.9}, and the same
 *       in IPv6; {@code host NAME}, {@code country XA}, {@code list NAME}
 *   <li>person: a login, {@code group NAME}, {@code ATTRIBUTE=VALUE}, {@code identified}, {@code
 *       unidentified}
 *   <li>device: {@code KIND}, {@code KIND, healthy}, {@code any device, unhealthy}
 *   <li>site: {@code shop.example}, {@code *.shop.example} for the names below it, {@code category
 *       NAME}, {@code nameless}
 *   <li>service: {@code tcp/443}, {@code udp/5000-5100}, {@code tcp}, {@code icmp/8}, {@code
 *       icmp/3.4}, {@code ip/47}
 *   <li>application: {@code NAME}, {@code NAME/FEATURE}, {@code family NAME}, {@code category
 *       NAME}, {@code unidentified}, {@code where CONDITION [and CONDITION …]} as {@link
 *       FilterText} has it
 *   <li>time: see {@link TimeText}
 * </ul>
 */
public final class ValueText {

  private static final Pattern NUMBER = Pattern.compile("\\d{1,5}");

  /** The longest value; conditions on applications are the longest there are. */
  private static final int MOST_LETTERS = 1_000;

  private static final String SET = "set ";
  private static final String GROUP = "group ";
  private static final String FAMILY = "family ";
  private static final String CATEGORY = "category ";
  private static final String HOST = "host ";
  private static final String COUNTRY = "country ";
  private static final String LIST = "list ";
  private static final String NO_HOST_NAME = "no host name";

  /** What older files say. */
  private static final String NAMELESS = "nameless";

  private static final String ANY_DEVICE = "any device";

  private ValueText() {}

  /**
   * Reads one value of a kind. Whether the names in it stand for anything is not asked here.
   *
   * @throws TextException naming the text and what would be right
   */
  public static Value parse(ValueKind kind, String raw) {
    String text = raw.trim();
    if (text.isEmpty()) {
      throw new TextException(0, kind.one() + " is missing");
    }
    if (raw.length() > MOST_LETTERS) {
      throw new TextException(
          0, "a value has at most " + MOST_LETTERS + " characters, not " + raw.length());
    }
    int odd = PlainText.oddSpace(raw);
    if (odd >= 0) {
      throw new TextException(odd, PlainText.oddSpaceWords(raw.charAt(odd)));
    }
    PlainText.forbidden(raw)
        .ifPresent(
            forbidden -> {
              throw new TextException(forbidden.position(), forbidden.words());
            });
    if (kind != ValueKind.ZONE && text.startsWith(SET)) {
      return new Value.SetName(rest(text, SET));
    }
    return switch (kind) {
      case ZONE -> new Value.ZoneName(text);
      case NETWORK -> network(text);
      case PERSON -> person(text);
      case DEVICE -> device(text);
      case SITE -> site(text);
      case SERVICE -> service(text);
      case APPLICATION -> application(text);
      case TIME -> TimeText.parse(text);
    };
  }

  private static String rest(String text, String prefix) {
    return text.substring(prefix.length()).trim();
  }

  private static Value network(String text) {
    if (text.startsWith(HOST)) {
      return new Value.HostObject(HostText.name(rest(text, HOST)));
    }
    if (text.startsWith(COUNTRY)) {
      String code = rest(text, COUNTRY);
      if (!code.matches("[A-Z]{2}")) {
        throw new TextException(
            0, "\"" + text + "\": a country is two capital letters, such as country XA");
      }
      return new Value.CountryName(code);
    }
    if (text.startsWith(LIST)) {
      return new Value.ListName(rest(text, LIST));
    }
    try {
      int slash = text.indexOf('/');
      int dash = text.indexOf('-');
      if (slash >= 0) {
        return prefix(text, Address.parse(text.substring(0, slash)), text.substring(slash + 1));
      }
      Address low = Address.parse(dash < 0 ? text : text.substring(0, dash).trim());
      Address high = dash < 0 ? low : Address.parse(text.substring(dash + 1).trim());
      if (low.version() != high.version() || low.compareTo(high) > 0) {
        throw new TextException(0, "\"" + text + "\": a range goes upwards within one IP version");
      }
      return new Value.Network(new Range<>(low, high));
    } catch (TextException e) {
      throw e;
    } catch (IllegalArgumentException e) {
      throw new TextException(
          0,
          e.getMessage() + "; a network is such as 10.20.0.7, 10.20.0.0/16 or 10.20.0.1-10.20.0.9");
    }
  }

  private static Value prefix(String text, Address address, String length) {
    int bits = number(length, 0, address.bits(), text);
    if (!address.lowest(bits).equals(address)) {
      throw new TextException(
          0,
          "\""
              + text
              + "\" has bits set behind its prefix; "
              + address.lowest(bits)
              + "/"
              + bits
              + " is the network, "
              + address
              + " the host");
    }
    return new Value.Network(new Range<>(address, address.highest(bits)));
  }

  private static int number(String digits, int low, int high, String text) {
    if (NUMBER.matcher(digits).matches()) {
      int number = Integer.parseInt(digits);
      if (low <= number && number <= high) {
        return number;
      }
    }
    throw new TextException(
        0, "\"" + text + "\": \"" + digits + "\" is not a number from " + low + " to " + high);
  }

  private static Value person(String text) {
    if (text.startsWith(GROUP)) {
      return new Value.GroupName(rest(text, GROUP));
    }
    int equals = text.indexOf('=');
    if (equals > 0 && equals < text.length() - 1) {
      return new Value.AttributeIs(
          text.substring(0, equals).trim(), text.substring(equals + 1).trim());
    }
    return switch (text) {
      case "identified" -> Value.Identity.IDENTIFIED;
      case "unidentified" -> Value.Identity.UNIDENTIFIED;
      default -> new Value.PersonName(text);
    };
  }

  private static Value site(String text) {
    if (text.startsWith(CATEGORY)) {
      return new Value.SiteCategory(rest(text, CATEGORY));
    }
    // Host names have no capitals, so neither has the word that stands among them.
    if (text.equalsIgnoreCase(NO_HOST_NAME) || text.equalsIgnoreCase(NAMELESS)) {
      return Value.Nameless.HOST;
    }
    return text.startsWith("*.")
        ? new Value.HostName(HostText.name(text.substring(2)), Value.HostName.Reach.BELOW)
        : new Value.HostName(HostText.name(text), Value.HostName.Reach.EXACT);
  }

  private static Value device(String text) {
    int comma = text.indexOf(',');
    String kind = comma < 0 ? text : text.substring(0, comma).trim();
    Optional<Posture> posture =
        comma < 0 ? Optional.empty() : Optional.of(posture(text, text.substring(comma + 1).trim()));
    return new Value.DeviceClass(
        kind.equals(ANY_DEVICE) ? Optional.empty() : Optional.of(kind), posture);
  }

  private static Posture posture(String text, String word) {
    return Arrays.stream(Posture.values())
        .filter(posture -> posture.word().equals(word))
        .findFirst()
        .orElseThrow(
            () ->
                new TextException(
                    0, "\"" + text + "\": a posture is healthy, unhealthy or unknown"));
  }

  private static Value service(String text) {
    String lower = text.toLowerCase(Locale.ROOT);
    int slash = lower.indexOf('/');
    String name = slash < 0 ? lower : lower.substring(0, slash);
    String detail = slash < 0 ? "" : lower.substring(slash + 1);
    if (name.equals("ip")) {
      int protocol = number(detail, 0, 255, text);
      return range(protocol, 0, Service.lastDetail(protocol));
    }
    Integer protocol = Service.PROTOCOLS.get(name);
    if (protocol == null) {
      throw new TextException(
          0, "\"" + text + "\" is not a service, such as tcp/443, udp/5000-5100, icmp/8 or ip/47");
    }
    if (slash < 0) {
      return range(protocol, 0, Service.lastDetail(protocol));
    }
    return protocol == Service.ICMP || protocol == Service.ICMPV6
        ? icmp(protocol, detail, text)
        : ports(protocol, detail, text);
  }

  private static Value icmp(int protocol, String detail, String text) {
    int dot = detail.indexOf('.');
    int type = number(dot < 0 ? detail : detail.substring(0, dot), 0, 255, text);
    if (dot < 0) {
      return range(protocol, type << 8, type << 8 | 255);
    }
    int code = number(detail.substring(dot + 1), 0, 255, text);
    return range(protocol, type << 8 | code, type << 8 | code);
  }

  private static Value ports(int protocol, String detail, String text) {
    int dash = detail.indexOf('-');
    int low = number(dash < 0 ? detail : detail.substring(0, dash), 0, 65535, text);
    int high = dash < 0 ? low : number(detail.substring(dash + 1), 0, 65535, text);
    if (low > high) {
      throw new TextException(0, "\"" + text + "\": ports go upwards");
    }
    return range(protocol, low, high);
  }

  private static Value range(int protocol, int low, int high) {
    return new Value.ServiceRange(new Service(protocol, low), new Service(protocol, high));
  }

  private static Value application(String text) {
    if (text.startsWith(FAMILY)) {
      return new Value.FamilyName(rest(text, FAMILY));
    }
    if (text.startsWith(CATEGORY)) {
      return new Value.CategoryName(rest(text, CATEGORY));
    }
    if (text.startsWith(FilterText.START)) {
      return FilterText.parse(text);
    }
    if (text.equals("unidentified")) {
      return Value.Unrecognised.APPLICATION;
    }
    int slash = text.indexOf('/');
    return slash < 0
        ? new Value.ApplicationName(text)
        : new Value.FeatureName(text.substring(0, slash), text.substring(slash + 1));
  }

  /** Writes a value so that {@link #parse} reads it back. */
  public static String print(Value value) {
    if (value instanceof Value.SetName set) {
      return SET + set.name();
    }
    if (value instanceof Value.ZoneName zone) {
      return zone.name();
    }
    if (value instanceof Value.Network network) {
      return print(network.range());
    }
    if (value instanceof Value.HostObject host) {
      return HOST + host.name();
    }
    if (value instanceof Value.CountryName country) {
      return COUNTRY + country.code();
    }
    if (value instanceof Value.ListName list) {
      return LIST + list.name();
    }
    if (value instanceof Value.ServiceRange service) {
      return print(service);
    }
    if (value instanceof Value.TimeSpan time) {
      return TimeText.print(time);
    }
    return printPerson(value);
  }

  private static String printPerson(Value value) {
    if (value instanceof Value.PersonName person) {
      return person.login();
    }
    if (value instanceof Value.AttributeIs attribute) {
      return attribute.key() + "=" + attribute.value();
    }
    if (value instanceof Value.GroupName group) {
      return GROUP + group.name();
    }
    if (value instanceof Value.Identity identity) {
      return identity.name().toLowerCase(Locale.ROOT);
    }
    if (value instanceof Value.DeviceClass device) {
      return device.kind().orElse(ANY_DEVICE)
          + device.posture().map(posture -> ", " + posture.word()).orElse("");
    }
    return printSite(value);
  }

  private static String printSite(Value value) {
    if (value instanceof Value.HostName host) {
      return (host.reach() == Value.HostName.Reach.BELOW ? "*." : "") + host.name();
    }
    if (value instanceof Value.SiteCategory category) {
      return CATEGORY + category.name();
    }
    if (value instanceof Value.Nameless) {
      return NO_HOST_NAME;
    }
    return printApplication(value);
  }

  private static String printApplication(Value value) {
    if (value instanceof Value.ApplicationName application) {
      return application.name();
    }
    if (value instanceof Value.FeatureName feature) {
      return feature.application() + "/" + feature.feature();
    }
    if (value instanceof Value.ApplicationOver over) {
      String features =
          over.parts().stream()
              .map(part -> part.orElse("no feature"))
              .sorted()
              .collect(Collectors.joining(" or "));
      return over.application()
          + (features.isEmpty() ? "" : "/" + features)
          + over.carrier().map(carrier -> " over " + carrier).orElse("");
    }
    if (value instanceof Value.FamilyName family) {
      return FAMILY + family.name();
    }
    if (value instanceof Value.CategoryName category) {
      return CATEGORY + category.name();
    }
    if (value instanceof Value.Filter filter) {
      return FilterText.print(filter);
    }
    return "unidentified";
  }

  /** A range as a host, a prefix where it is one, otherwise both ends. */
  public static String print(Range<Address> range) {
    if (range.low().equals(range.high())) {
      return range.low().toString();
    }
    for (int bits = 0; bits <= range.low().bits(); bits++) {
      if (range.low().lowest(bits).equals(range.low())
          && range.low().highest(bits).equals(range.high())) {
        return range.low() + "/" + bits;
      }
    }
    return range.low() + "-" + range.high();
  }

  private static String print(Value.ServiceRange range) {
    int protocol = range.low().protocol();
    int low = range.low().detail();
    int high = range.high().detail();
    Optional<String> name =
        Service.PROTOCOLS.entrySet().stream()
            .filter(entry -> entry.getValue() == protocol)
            .map(Map.Entry::getKey)
            .findFirst();
    if (name.isEmpty()) {
      return "ip/" + protocol;
    }
    if (low == 0 && high == Service.lastDetail(protocol)) {
      return name.get();
    }
    if (protocol == Service.ICMP || protocol == Service.ICMPV6) {
      return name.get() + "/" + (low >> 8) + (low == high ? "." + (low & 255) : "");
    }
    return name.get() + "/" + low + (low == high ? "" : "-" + high);
  }

  /** A device as it stands in a probe. */
  public static String print(Device device) {
    return device.kind()
        + (device.posture() == Posture.UNKNOWN ? "" : ", " + device.posture().word());
  }

  /** An application use as it stands in a probe. */
  public static String print(ApplicationUse use) {
    return use.application()
        .map(
            name ->
                name
                    + use.feature().map(feature -> "/" + feature).orElse("")
                    + use.carrier().map(carrier -> " over " + carrier).orElse(""))
        .orElse("unidentified");
  }

  /** A field in words, such as {@code anything but tcp/80, tcp/443}. */
  public static String print(Field field) {
    String values = field.values().stream().map(ValueText::print).collect(Collectors.joining(", "));
    return field.sense() == Field.Sense.IS ? values : "anything but " + values;
  }
}
