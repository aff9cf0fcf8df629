package ironsieve.text;

import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Field;
import ironsieve.model.Posture;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.model.Value.Condition.Trait;
import ironsieve.model.ValueKind;
import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;
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
 *       NAME}, either with {@code but not NAME [nor NAME …]}, {@code unidentified}, {@code where
 *       CONDITION [and CONDITION …]} as {@link FilterText} has it
 *   <li>time: see {@link TimeText}
 * </ul>
 */
public final class ValueText {

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
      case SERVICE -> ServiceText.parse(text);
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
    return NetworkText.parse(text);
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

  private static Value application(String text) {
    if (text.startsWith(FAMILY)) {
      String family = rest(text, FAMILY);
      return family.contains(FilterText.BUT_NOT)
          ? FilterText.except(text, Trait.FAMILY, family)
          : new Value.FamilyName(family);
    }
    if (text.startsWith(CATEGORY)) {
      String category = rest(text, CATEGORY);
      return category.contains(FilterText.BUT_NOT)
          ? FilterText.except(text, Trait.CATEGORY, category)
          : new Value.CategoryName(category);
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
      return NetworkText.print(network.range());
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
      return ServiceText.print(service);
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

  /** One service, such as {@code tcp/443}. */
  public static String print(Service service) {
    return ServiceText.print(new Value.ServiceRange(service, service));
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
