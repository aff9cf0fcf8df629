package ironsieve.text;

import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Posture;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.region.Address;
import ironsieve.text.ProbeText.Part;
import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.temporal.TemporalAdjusters;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * One pass over a probe's sentence, part by part; remembers the part it is in and what was said.
 */
final class ProbeReader {

  private static final Pattern ADDRESS =
      Pattern.compile("[0-9][0-9a-fA-F:.]*|[0-9a-fA-F]*:[0-9a-fA-F:.]*");
  private static final Pattern HOST =
      Pattern.compile("(?=\\S*[a-zA-Z])[a-zA-Z0-9-]+(\\.|(\\.[a-zA-Z0-9-]+)+)(?=\\s|$)");
  private static final Pattern OVER = Pattern.compile("over(?=\\s|$)\\s*");
  private static final Pattern SERVICE =
      Pattern.compile(
          "(tcp|udp|sctp|icmp|icmpv6|ip)(/[0-9.]+)?(?=\\s|$)", Pattern.CASE_INSENSITIVE);
  private static final Pattern WORD = Pattern.compile("\\S+");
  private static final Pattern DATE = Pattern.compile("\\d{4}-\\d{2}-\\d{2}(?=\\s|$)");
  private static final Pattern CLOCK = Pattern.compile("\\d{1,2}:\\d{2}(?=\\s|$)");
  private static final Pattern POSTURE =
      Pattern.compile(",?\\s*(healthy|unhealthy|unknown)(?=\\s|$)");

  /** What has been said so far. */
  static final class Given {
    String fromZone;
    Address fromAddress;
    Optional<String> person;
    Device device;
    String toZone;
    Address toAddress;
    String host;
    Service service;
    ApplicationUse use;
    LocalDateTime at;
    LocalDate date;
    DayOfWeek weekday;
  }

  private final ProbeNames names;
  private final String text;
  private final Given said = new Given();
  private final LocalDateTime now;
  private final Set<Part> begun = EnumSet.noneOf(Part.class);
  private int at;
  private int weekdayAt;
  private Part part;

  ProbeReader(ProbeNames names, String text, LocalDateTime now) {
    this.names = names;
    this.text = text;
    this.now = now;
  }

  /** What has been said so far. */
  Given said() {
    return said;
  }

  /** The part one is in; null before the first. */
  Part part() {
    return part;
  }

  /** The parts that have begun. */
  Set<Part> begun() {
    return begun;
  }

  /** Whether the text ends in the slash before a feature. */
  boolean endsInSlash() {
    return at > 0 && text.charAt(at - 1) == '/';
  }

  /**
   * Reads all of it.
   *
   * @throws TextException at the place that cannot be read
   */
  void all() {
    skipSpace();
    while (at < text.length()) {
      part = keyword();
      skipSpace();
      values();
    }
    if (said.date != null && said.weekday != null && said.date.getDayOfWeek() != said.weekday) {
      throw new TextException(
          weekdayAt,
          said.date + " is a " + word(said.date.getDayOfWeek()) + ", not a " + word(said.weekday));
    }
  }

  private static String word(DayOfWeek day) {
    return day.getDisplayName(java.time.format.TextStyle.FULL, Locale.ENGLISH);
  }

  private Part keyword() {
    for (Part candidate : Part.values()) {
      if (take(Pattern.compile(candidate.word() + "(?=\\s|$)")).isPresent()) {
        if (!begun.add(candidate)) {
          throw new TextException(at, "\"" + candidate.word() + "\" stands here twice");
        }
        return candidate;
      }
    }
    throw new TextException(at, "cannot read \"" + rest() + "\" " + expected());
  }

  private String expected() {
    return switch (part == null ? Part.AT : part) {
      case FROM -> "as a zone or an address, or as the next part";
      case TO -> "as a zone, an address or a host name, or as the next part";
      case AS -> "as a login or as the next part";
      case ON -> "as a kind of device or as the next part";
      case USING -> "as a service, application or feature, or as the next part";
      case AT ->
          part == null
              ? "; a probe begins with: from"
              : "as a day, a date or a time such as tue 09:30";
    };
  }

  private String rest() {
    return text.substring(at).trim();
  }

  private void values() {
    while (at < text.length() && value()) {
      skipSpace();
    }
  }

  private boolean value() {
    return switch (part) {
      case FROM ->
          name(names.zones(), zone -> said.fromZone = zone)
              || address(address -> said.fromAddress = address);
      case TO ->
          name(names.zones(), zone -> said.toZone = zone)
              || host()
              || address(address -> said.toAddress = address);
      case AS -> said.person == null && person();
      case ON -> device();
      // Names first: that of an application may begin with a protocol's.
      case USING -> application() || service();
      case AT -> moment();
    };
  }

  private Optional<String> take(Pattern pattern) {
    Matcher matcher = pattern.matcher(text).region(at, text.length());
    if (!matcher.lookingAt()) {
      return Optional.empty();
    }
    at = matcher.end();
    return Optional.of(matcher.group());
  }

  private boolean name(List<String> among, Function<String, ?> keep) {
    for (String name : among) {
      int end = at + name.length();
      if (text.regionMatches(true, at, name, 0, name.length())
          && (end == text.length() || " /,".indexOf(text.charAt(end)) >= 0)) {
        keep.apply(name);
        at = end;
        return true;
      }
    }
    return false;
  }

  private boolean address(Function<Address, ?> keep) {
    int start = at;
    Optional<String> word = take(ADDRESS);
    try {
      word.ifPresent(address -> keep.apply(Address.parse(address)));
    } catch (IllegalArgumentException e) {
      throw new TextException(start, e.getMessage());
    }
    return word.isPresent();
  }

  private boolean host() {
    int start = at;
    Optional<String> word = take(HOST);
    try {
      // A name of one label ends in a dot, or it would read like any word.
      word.ifPresent(name -> said.host = HostText.name(name.replaceAll("\\.$", "")));
    } catch (TextException e) {
      throw new TextException(start, e.getMessage());
    }
    return word.isPresent();
  }

  private boolean person() {
    int start = at;
    Optional<String> word = take(WORD);
    word.ifPresent(
        login -> {
          boolean nobody = login.equals("unidentified");
          if (!nobody && names.environment().directory().person(login).isEmpty()) {
            at = start;
            throw new TextException(
                start, "nobody in the directory has the login \"" + login + "\"");
          }
          said.person = nobody ? Optional.empty() : Optional.of(login);
        });
    return word.isPresent();
  }

  private boolean device() {
    if (said.device != null
        || !name(names.deviceKinds(), kind -> said.device = new Device(kind, Posture.UNKNOWN))) {
      return false;
    }
    take(POSTURE)
        .map(word -> word.replaceAll("[,\\s]", "").toUpperCase(Locale.ROOT))
        .ifPresent(word -> said.device = new Device(said.device.kind(), Posture.valueOf(word)));
    return true;
  }

  private boolean service() {
    int start = at;
    Optional<String> word = take(SERVICE);
    word.ifPresent(
        service -> {
          try {
            said.service = ((Value.ServiceRange) ValueText.parse(ValueKind.SERVICE, service)).low();
          } catch (TextException e) {
            throw new TextException(start, e.getMessage());
          }
        });
    return word.isPresent();
  }

  private boolean application() {
    if (take(Pattern.compile("unidentified(?=\\s|$)")).isPresent()) {
      said.use = ApplicationUse.UNRECOGNISED;
      return true;
    }
    if (!name(
        names.applications(),
        name ->
            said.use = new ApplicationUse(Optional.of(name), carrier(name), Optional.empty()))) {
      return false;
    }
    if (at < text.length() && text.charAt(at) == '/') {
      at++;
      feature();
    }
    int end = at;
    skipSpace();
    if (take(OVER).isPresent()) {
      over();
    } else {
      at = end;
    }
    return true;
  }

  private Optional<String> carrier(String application) {
    return carriers(application).stream().findFirst();
  }

  private List<String> carriers(String application) {
    return names
        .environment()
        .catalogue()
        .application(application)
        .orElseThrow()
        .wiring()
        .ridesOn();
  }

  private void over() {
    String application = said.use.application().orElseThrow();
    List<String> carriers = carriers(application);
    if (!name(
        carriers,
        name ->
            said.use =
                new ApplicationUse(
                    said.use.application(), Optional.of(name), said.use.feature()))) {
      throw new TextException(
          at,
          carriers.isEmpty()
              ? application + " rides on nothing"
              : application + " rides on " + String.join(", ", carriers));
    }
  }

  private void feature() {
    String application = said.use.application().orElseThrow();
    List<String> features =
        names.environment().catalogue().application(application).orElseThrow().features();
    if (!name(
        ProbeNames.longestFirst(features.stream()),
        name ->
            said.use =
                new ApplicationUse(
                    said.use.application(), said.use.carrier(), Optional.of(name)))) {
      throw new TextException(
          at,
          features.isEmpty()
              ? application + " has no features"
              : "the features of " + application + " are " + String.join(", ", features));
    }
  }

  private boolean moment() {
    int start = at;
    LocalDateTime base = said.at == null ? now : said.at;
    try {
      Optional<String> date = take(DATE);
      if (date.isPresent()) {
        LocalDate day = LocalDate.parse(date.get());
        if (day.getYear() < 1970) {
          throw new TextException(start, "days before 1970 are not on this calendar");
        }
        said.date = day;
        said.at = day.atTime(base.toLocalTime());
        return true;
      }
      Optional<String> clock = take(CLOCK);
      if (clock.isPresent()) {
        String padded = clock.get().length() == 4 ? "0" + clock.get() : clock.get();
        said.at = base.toLocalDate().atTime(LocalTime.parse(padded));
        return true;
      }
    } catch (DateTimeException e) {
      throw new TextException(start, "there is no such day or time");
    }
    Optional<DayOfWeek> day =
        at + 3 <= text.length() && (at + 3 == text.length() || text.charAt(at + 3) == ' ')
            ? TimeText.day(text.substring(at, at + 3))
            : Optional.empty();
    day.ifPresent(
        weekday -> {
          at += 3;
          weekdayAt = start;
          said.weekday = weekday;
          if (said.date == null) {
            said.at = base.with(TemporalAdjusters.nextOrSame(weekday));
          }
        });
    return day.isPresent();
  }

  private void skipSpace() {
    while (at < text.length() && Character.isWhitespace(text.charAt(at))) {
      at++;
    }
  }
}
