package ironsieve.text;

import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Field;
import ironsieve.model.Posture;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.model.Value.Condition.Trait;
import ironsieve.model.ValueCases;
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
  private static final String UNIDENTIFIED = "unidentified";
  private static final String NO_HOST_NAME = "no host name";

  /** What older files say. */
  private static final String NAMELESS = "nameless";

  private static final String ANY_DEVICE = "any device";

  private static final ValueCases<Void, String> PRINTED =
      new ValueCases.Builder<Void, String>()
          .on(Value.SetName.class, (none, set) -> SET + set.name())
          .on(Value.ZoneName.class, (none, zone) -> zone.name())
          .on(Value.Network.class, (none, network) -> NetworkText.print(network.range()))
          .on(Value.HostObject.class, (none, host) -> HOST + host.name())
          .on(Value.CountryName.class, (none, country) -> COUNTRY + country.code())
          .on(Value.ListName.class, (none, list) -> LIST + list.name())
          .on(Value.PersonName.class, (none, person) -> person.login())
          .on(Value.GroupName.class, (none, group) -> GROUP + group.name())
          .on(Value.AttributeIs.class, (none, said) -> said.key() + "=" + said.value())
          .on(Value.Identity.class, (none, identity) -> identity.name().toLowerCase(Locale.ROOT))
          .on(
              Value.DeviceClass.class,
              (none, device) ->
                  device.kind().orElse(ANY_DEVICE)
                      + device.posture().map(posture -> ", " + posture.word()).orElse(""))
          .on(Value.HostName.class, (none, host) -> HostText.print(host))
          .on(Value.SiteCategory.class, (none, category) -> CATEGORY + category.name())
          .on(Value.Nameless.class, (none, nameless) -> NO_HOST_NAME)
          .on(Value.ServiceRange.class, (none, service) -> ServiceText.print(service))
          .on(Value.ApplicationName.class, (none, application) -> application.name())
          .on(
              Value.FeatureName.class,
              (none, feature) -> feature.application() + "/" + feature.feature())
          .on(Value.ApplicationOver.class, (none, over) -> over(over))
          .on(Value.FamilyName.class, (none, family) -> FAMILY + family.name())
          .on(Value.CategoryName.class, (none, category) -> CATEGORY + category.name())
          .on(Value.Filter.class, (none, filter) -> FilterText.print(filter))
          .on(Value.Unrecognised.class, (none, unrecognised) -> UNIDENTIFIED)
          .on(Value.TimeSpan.class, (none, time) -> TimeText.print(time))
          .table();

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
      case UNIDENTIFIED -> Value.Identity.UNIDENTIFIED;
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
    return HostText.parse(text);
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
    if (text.equals(UNIDENTIFIED)) {
      return Value.Unrecognised.APPLICATION;
    }
    int slash = text.indexOf('/');
    return slash < 0
        ? new Value.ApplicationName(text)
        : new Value.FeatureName(text.substring(0, slash), text.substring(slash + 1));
  }

  /** Writes a value so that {@link #parse} reads it back. */
  public static String print(Value value) {
    return PRINTED.of(null, value);
  }

  private static String over(Value.ApplicationOver over) {
    String features =
        over.parts().stream()
            .map(part -> part.orElse("no feature"))
            .sorted()
            .collect(Collectors.joining(" or "));
    return over.application()
        + (features.isEmpty() ? "" : "/" + features)
        + over.carrier().map(carrier -> " over " + carrier).orElse("");
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
        .orElse(UNIDENTIFIED);
  }

  /** A field in words, such as {@code anything but tcp/80, tcp/443}. */
  public static String print(Field field) {
    String values = field.values().stream().map(ValueText::print).collect(Collectors.joining(", "));
    return field.sense() == Field.Sense.IS ? values : "anything but " + values;
  }
}
