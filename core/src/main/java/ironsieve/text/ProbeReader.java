package ironsieve.text;

import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Posture;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.region.Address;
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
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.regex.Pattern;

/**
 * One pass over a probe's sentence, part by part; remembers the part it is in and what was said.
 */
final class ProbeReader {

  private static final String BETWEEN = " \t\n\r\f\u000B";

  /** A feature comes right after its application, a posture after a kind of device. */
  private static final String CLOSE = "/,";

  private static final Pattern ADDRESS =
      Pattern.compile("[0-9][0-9a-fA-F:.]*|[0-9a-fA-F]*:[0-9a-fA-F:.]*");
  private static final Pattern HOST =
      Pattern.compile("(?=\\S*[a-zA-Z])[a-zA-Z0-9-]+(\\.|(\\.[a-zA-Z0-9-]+)+)(?=\\s|$)");
  private static final Pattern OVER = Pattern.compile("over(?=\\s|$)\\s*");
  private static final Pattern SERVICE =
      Pattern.compile(
          "(tcp|udp|sctp|icmp|icmpv6|ip)(/[0-9.]+)?(?=\\s|$)", Pattern.CASE_INSENSITIVE);
  private static final Pattern WORD = Pattern.compile("\\S+");
  private static final Pattern WEEKDAY = Pattern.compile("[^\\s]{3}(?=\\s|$)");
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

  private final NameIndex names;
  private final SentenceScanner scan;
  private final Given said = new Given();
  private final LocalDateTime now;
  private final Set<SentencePart> begun = EnumSet.noneOf(SentencePart.class);
  private int weekdayAt;
  private SentencePart part;

  ProbeReader(NameIndex names, String text, LocalDateTime now) {
    this.names = names;
    scan = new SentenceScanner(text, BETWEEN);
    this.now = now;
  }

  /** What has been said so far. */
  Given given() {
    return said;
  }

  /** The part one is in; null before the first. */
  SentencePart part() {
    return part;
  }

  /** The parts that have begun. */
  Set<SentencePart> begun() {
    return begun;
  }

  /** Whether it stopped at the slash before a feature. */
  boolean endsInSlash() {
    return scan.isAfter('/');
  }

  /**
   * Reads all of it.
   *
   * @throws TextException at the place that cannot be read
   */
  void all() {
    scan.skip();
    while (!scan.isAtEnd()) {
      part = keyword();
      scan.skip();
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

  private SentencePart keyword() {
    int start = scan.at();
    SentencePart next =
        scan.part()
            .orElseThrow(
                () ->
                    new TextException(
                        start, "cannot read \"" + scan.rest().trim() + "\" " + expected()));
    if (!begun.add(next)) {
      throw new TextException(
          start + next.word().length(), "\"" + next.word() + "\" stands here twice");
    }
    return next;
  }

  private String expected() {
    return switch (part == null ? SentencePart.AT : part) {
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

  private void values() {
    while (!scan.isAtEnd() && value()) {
      scan.skip();
    }
  }

  private boolean value() {
    return switch (part) {
      case FROM ->
          name(names.of(ValueKind.ZONE), zone -> said.fromZone = zone)
              || address(address -> said.fromAddress = address);
      case TO ->
          name(names.of(ValueKind.ZONE), zone -> said.toZone = zone)
              || host()
              || address(address -> said.toAddress = address);
      case AS -> said.person == null && person();
      case ON -> device();
      // Names first: that of an application may begin with a protocol's.
      case USING -> application() || service();
      case AT -> moment();
    };
  }

  private boolean name(Spellings among, Consumer<String> keep) {
    Optional<String> found = scan.name(among, CLOSE);
    found.ifPresent(keep);
    return found.isPresent();
  }

  private boolean address(Function<Address, ?> keep) {
    int start = scan.at();
    Optional<String> word = scan.take(ADDRESS);
    try {
      word.ifPresent(address -> keep.apply(Address.parse(address)));
    } catch (IllegalArgumentException e) {
      throw new TextException(start, e.getMessage());
    }
    return word.isPresent();
  }

  private boolean host() {
    int start = scan.at();
    Optional<String> word = scan.take(HOST);
    try {
      // A name of one label ends in a dot, or it would read like any word.
      word.ifPresent(name -> said.host = HostText.name(name.replaceAll("\\.$", "")));
    } catch (TextException e) {
      throw new TextException(start, e.getMessage());
    }
    return word.isPresent();
  }

  private boolean person() {
    int start = scan.at();
    Optional<String> word = scan.take(WORD);
    word.ifPresent(
        login -> {
          boolean nobody = login.equals("unidentified");
          if (!nobody && names.environment().directory().person(login).isEmpty()) {
            scan.go(start);
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
    scan.take(POSTURE)
        .map(word -> word.replaceAll("[,\\s]", "").toUpperCase(Locale.ROOT))
        .ifPresent(word -> said.device = new Device(said.device.kind(), Posture.valueOf(word)));
    return true;
  }

  private boolean service() {
    int start = scan.at();
    Optional<String> word = scan.take(SERVICE);
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
    if (scan.take(Pattern.compile("unidentified(?=\\s|$)")).isPresent()) {
      said.use = ApplicationUse.UNRECOGNISED;
      return true;
    }
    if (!name(
        names.applications(),
        name ->
            said.use = new ApplicationUse(Optional.of(name), carrier(name), Optional.empty()))) {
      return false;
    }
    if (scan.next() == '/') {
      scan.go(scan.at() + 1);
      feature();
    }
    int end = scan.at();
    scan.skip();
    if (scan.take(OVER).isPresent()) {
      over();
    } else {
      scan.go(end);
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
        new Spellings(carriers),
        name ->
            said.use =
                new ApplicationUse(
                    said.use.application(), Optional.of(name), said.use.feature()))) {
      throw new TextException(
          scan.at(),
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
        new Spellings(features),
        name ->
            said.use =
                new ApplicationUse(
                    said.use.application(), said.use.carrier(), Optional.of(name)))) {
      throw new TextException(
          scan.at(),
          features.isEmpty()
              ? application + " has no features"
              : "the features of " + application + " are " + String.join(", ", features));
    }
  }

  private boolean moment() {
    int start = scan.at();
    LocalDateTime base = said.at == null ? now : said.at;
    try {
      Optional<String> date = scan.take(DATE);
      if (date.isPresent()) {
        LocalDate day = LocalDate.parse(date.get());
        if (day.getYear() < 1970) {
          throw new TextException(start, "days before 1970 are not on this calendar");
        }
        said.date = day;
        said.at = day.atTime(base.toLocalTime());
        return true;
      }
      Optional<String> clock = scan.take(CLOCK);
      if (clock.isPresent()) {
        String padded = clock.get().length() == 4 ? "0" + clock.get() : clock.get();
        said.at = base.toLocalDate().atTime(LocalTime.parse(padded));
        return true;
      }
    } catch (DateTimeException e) {
      throw new TextException(start, "there is no such day or time");
    }
    Optional<DayOfWeek> day = scan.take(WEEKDAY).flatMap(TimeText::day);
    if (day.isEmpty()) {
      scan.go(start);
    }
    day.ifPresent(
        weekday -> {
          weekdayAt = start;
          said.weekday = weekday;
          if (said.date == null) {
            said.at = base.with(TemporalAdjusters.nextOrSame(weekday));
          }
        });
    return day.isPresent();
  }
}
