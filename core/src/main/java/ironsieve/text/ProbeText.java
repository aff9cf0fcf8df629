package ironsieve.text;

import ironsieve.model.Application;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.Connection.Source;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Posture;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.RangeSet;
import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.temporal.TemporalAdjusters;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * Probes as one sentence:
 *
 * <pre>
 * from [ZONE] [ADDRESS] [as LOGIN] [on DEVICE[, POSTURE]] to [ZONE] [ADDRESS] [HOST NAME]
 *   [using [SERVICE] [APPLICATION[/FEATURE] [over CARRIER]]] [at [DAY | DATE] HH:MM]
 * </pre>
 *
 * Parts may stand in any order. What is not said is filled in from what is: the zone from the
 * address, an address from the host name or the zone, port and carrier from the application; the
 * rest is unknown, and the time is now.
 */
public final class ProbeText {

  /** The parts of a probe, by the word that begins each. */
  public enum Part {
    FROM,
    AS,
    ON,
    TO,
    USING,
    AT;

    /** The word that begins it. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /** A detail of a probe that can be filled in. */
  public enum Detail {
    FROM_ZONE,
    FROM_ADDRESS,
    PERSON,
    DEVICE,
    TO_ZONE,
    TO_ADDRESS,
    SITE,
    SERVICE,
    APPLICATION,
    TIME
  }

  /**
   * A probe as read.
   *
   * @param connection the whole connection
   * @param filledIn the details that were not said
   */
  public record Probe(Connection connection, Set<Detail> filledIn) {}

  /**
   * One way to go on.
   *
   * @param text what to put in
   * @param kind what it is: a word of the sentence, a zone, a person …
   * @param detail a few words about it; may be empty
   */
  public record Completion(String text, String kind, String detail) {}

  /**
   * Ways to go on at the end of a text.
   *
   * @param from where the text to be replaced begins, in characters
   * @param choices the best first; at most 12
   */
  public record Completions(int from, List<Completion> choices) {}

  private static final int MOST_CHOICES = 12;
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

  private final Environment environment;
  private final List<String> zoneNames;
  private final List<String> deviceKinds;
  private final List<String> applicationNames;

  /** Probes in these surroundings. */
  public ProbeText(Environment environment) {
    this.environment = environment;
    zoneNames = longestFirst(environment.zones().stream().map(Zone::name));
    deviceKinds =
        longestFirst(
            Stream.concat(environment.deviceKinds().stream(), Stream.of(Device.UNKNOWN_KIND)));
    applicationNames =
        longestFirst(environment.catalogue().applications().stream().map(Application::name));
  }

  private static List<String> longestFirst(Stream<String> names) {
    return names.sorted(Comparator.comparing(String::length).reversed()).toList();
  }

  /** What has been said so far. */
  private static final class Message {
    private String fromZone;
    private Address fromAddress;
    private Optional<String> person;
    private Device device;
    private String toZone;
    private Address toAddress;
    private String host;
    private Service service;
    private ApplicationUse use;
    private LocalDateTime at;
    private LocalDate date;
    private DayOfWeek weekday;
  }

  /**
   * Reads a probe.
   *
   * @param now the time to fill in
   * @throws TextException at the place that cannot be read, saying what could stand there
   */
  public Probe parse(String text, LocalDateTime now) {
    Message said = new Message();
    Walk walk = new Walk(text, said, now);
    walk.all();
    return filledIn(said, now, text.length());
  }

  /** One pass over a text, part by part; remembers the part it is in. */
  private final class Walk {
    private final String text;
    private final Message said;
    private final LocalDateTime now;
    private final Set<Part> begun = EnumSet.noneOf(Part.class);
    private int at;
    private int weekdayAt;
    private Part part;

    private Walk(String text, Message said, LocalDateTime now) {
      this.text = text;
      this.said = said;
      this.now = now;
    }

    private void all() {
      skipSpace();
      while (at < text.length()) {
        part = keyword();
        skipSpace();
        values();
      }
      if (said.date != null && said.weekday != null && said.date.getDayOfWeek() != said.weekday) {
        throw new TextException(
            weekdayAt,
            said.date
                + " is a "
                + word(said.date.getDayOfWeek())
                + ", not a "
                + word(said.weekday));
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
            name(zoneNames, zone -> said.fromZone = zone)
                || address(address -> said.fromAddress = address);
        case TO ->
            name(zoneNames, zone -> said.toZone = zone)
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

    private boolean name(List<String> names, Function<String, ?> keep) {
      for (String name : names) {
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
            if (!nobody && environment.directory().person(login).isEmpty()) {
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
          || !name(deviceKinds, kind -> said.device = new Device(kind, Posture.UNKNOWN))) {
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
              said.service =
                  ((Value.ServiceRange) ValueText.parse(ValueKind.SERVICE, service)).low();
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
          applicationNames,
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
      return environment.catalogue().application(application).orElseThrow().wiring().ridesOn();
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
          environment.catalogue().application(application).orElseThrow().features();
      if (!name(
          longestFirst(features.stream()),
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

  private Probe filledIn(Message said, LocalDateTime now, int end) {
    Set<Detail> filled = EnumSet.noneOf(Detail.class);
    if (said.fromZone == null && said.fromAddress == null) {
      throw new TextException(end, "say where it comes from: from ZONE or from ADDRESS");
    }
    if (said.toAddress == null && said.host != null) {
      resolve(said);
      note(filled, Detail.TO_ADDRESS, null);
    }
    if (said.toZone == null && said.toAddress == null) {
      throw new TextException(
          end,
          said.host == null
              ? "say where it goes: to ZONE or to ADDRESS"
              : said.host + " resolves to no address here; say a zone or an address too");
    }
    Place from = place(said.fromZone, said.fromAddress, said.toAddress, end);
    Place to = place(said.toZone, said.toAddress, from.address(), end);
    note(filled, Detail.FROM_ZONE, said.fromZone);
    note(filled, Detail.FROM_ADDRESS, said.fromAddress);
    note(filled, Detail.TO_ZONE, said.toZone);
    note(filled, Detail.TO_ADDRESS, said.toAddress);
    note(filled, Detail.SITE, said.host);
    note(filled, Detail.PERSON, said.person);
    note(filled, Detail.DEVICE, said.device);
    note(filled, Detail.SERVICE, said.service);
    note(filled, Detail.APPLICATION, said.use);
    note(filled, Detail.TIME, said.at);
    ApplicationUse use = said.use == null ? ApplicationUse.UNRECOGNISED : said.use;
    LocalDateTime at = (said.at == null ? now : said.at).withSecond(0).withNano(0);
    return new Probe(
        new Connection(
            at,
            new Source(
                from,
                said.person == null ? Optional.empty() : said.person,
                said.device == null ? Device.UNKNOWN : said.device),
            new Connection.Destination(to, Optional.ofNullable(said.host)),
            said.service == null ? usualService(use) : said.service,
            use),
        filled);
  }

  /** An address the host name resolves to now that fits what else was said, if there is one. */
  private void resolve(Message said) {
    environment.atlas().hosts().getOrDefault(said.host, List.of()).stream()
        .filter(
            address -> said.fromAddress == null || said.fromAddress.version() == address.version())
        .filter(
            address ->
                said.toZone == null || behind().get(zoneNumber(said.toZone)).contains(address))
        .findFirst()
        .ifPresent(address -> said.toAddress = address);
  }

  private static void note(Set<Detail> filled, Detail detail, Object said) {
    if (said == null) {
      filled.add(detail);
    }
  }

  private Service usualService(ApplicationUse use) {
    return use.application()
        .flatMap(environment.catalogue()::application)
        .flatMap(application -> application.wiring().usualPorts().stream().findFirst())
        .map(Value.ServiceRange::low)
        .orElse(new Service(Service.TCP, 443));
  }

  private Place place(String zone, Address address, Address other, int end) {
    if (address != null) {
      return new Place(zone == null ? zoneOf(address, end) : zone, address);
    }
    return new Place(zone, addressIn(zone, other, end));
  }

  private String zoneOf(Address address, int end) {
    List<RangeSet<Address>> behind = behind();
    for (int z = 0; z < behind.size(); z++) {
      if (behind.get(z).contains(address)) {
        return environment.zones().get(z).name();
      }
    }
    throw new TextException(end, address + " lies behind no zone; name the zone too");
  }

  private Address addressIn(String zone, Address sameVersion, int end) {
    RangeSet<Address> behind = behind().get(zoneNumber(zone));
    return behind.ranges().stream()
        .filter(range -> sameVersion == null || range.low().version() == sameVersion.version())
        .map(Address::typical)
        .min(Comparator.comparing(address -> !address.isExample()))
        .orElseThrow(
            () ->
                new TextException(
                    end,
                    "zone " + zone + " has no address of the same IP version as the other end"));
  }

  private int zoneNumber(String zone) {
    List<String> names = environment.zones().stream().map(Zone::name).toList();
    return names.indexOf(zone);
  }

  private List<RangeSet<Address>> behind() {
    return Zone.behind(environment.zones());
  }

  /** Writes a connection as a probe that {@link #parse} reads back. */
  public static String print(Connection connection) {
    Source from = connection.from();
    StringBuilder text = new StringBuilder("from ");
    text.append(from.place().zone()).append(' ').append(from.place().address());
    from.person().ifPresent(login -> text.append(" as ").append(login));
    if (!from.device().equals(Device.UNKNOWN)) {
      text.append(" on ").append(ValueText.print(from.device()));
    }
    text.append(" to ").append(connection.to().zone());
    text.append(' ').append(connection.to().address());
    connection
        .to()
        .host()
        .ifPresent(host -> text.append(' ').append(host).append(host.contains(".") ? "" : "."));
    text.append(" using ");
    text.append(
        ValueText.print(new Value.ServiceRange(connection.service(), connection.service())));
    text.append(' ').append(ValueText.print(connection.using()));
    return text.append(" at ").append(TimeText.print(connection.at())).toString();
  }

  /** The details of a connection as they stand in a probe, in the order of the sentence. */
  public static Map<Detail, String> details(Connection connection) {
    Map<Detail, String> details = new EnumMap<>(Detail.class);
    details.put(Detail.FROM_ZONE, connection.from().place().zone());
    details.put(Detail.FROM_ADDRESS, connection.from().place().address().toString());
    details.put(Detail.PERSON, connection.from().person().orElse("unidentified"));
    details.put(Detail.DEVICE, ValueText.print(connection.from().device()));
    details.put(Detail.TO_ZONE, connection.to().zone());
    details.put(Detail.TO_ADDRESS, connection.to().address().toString());
    details.put(Detail.SITE, connection.to().host().orElse("no host name"));
    details.put(
        Detail.SERVICE,
        ValueText.print(new Value.ServiceRange(connection.service(), connection.service())));
    details.put(Detail.APPLICATION, ValueText.print(connection.using()));
    details.put(Detail.TIME, TimeText.print(connection.at()));
    return details;
  }

  /** Ways to go on at the end of a text that may be unfinished. */
  public Completions complete(String text) {
    Walk walk = new Walk(text, new Message(), LocalDateTime.of(2000, 1, 1, 0, 0));
    int from = text.length();
    try {
      walk.all();
      if (!text.isEmpty() && !Character.isWhitespace(text.charAt(text.length() - 1))) {
        from = lastWord(text);
      }
    } catch (TextException e) {
      from = e.position();
    }
    String typed = text.substring(Math.min(from, text.length()));
    List<Completion> choices =
        candidates(walk)
            .filter(choice -> fits(choice, typed))
            .sorted(Comparator.comparing(choice -> rank(choice, typed)))
            .limit(MOST_CHOICES)
            .toList();
    return new Completions(from, choices);
  }

  private static int lastWord(String text) {
    return Math.max(text.lastIndexOf(' '), text.lastIndexOf('/')) + 1;
  }

  private static boolean fits(Completion choice, String typed) {
    String wanted = typed.toLowerCase(Locale.ROOT);
    return choice.text().toLowerCase(Locale.ROOT).contains(wanted)
        || choice.detail().toLowerCase(Locale.ROOT).contains(wanted);
  }

  private static int rank(Completion choice, String typed) {
    boolean begins =
        choice.text().toLowerCase(Locale.ROOT).startsWith(typed.toLowerCase(Locale.ROOT));
    return begins ? 0 : 1;
  }

  private Stream<Completion> candidates(Walk walk) {
    Stream<Completion> words =
        Stream.of(Part.values())
            .filter(part -> !walk.begun.contains(part))
            .map(part -> new Completion(part.word(), "word", ""));
    if (walk.part == null) {
      return words.filter(word -> word.text().equals("from"));
    }
    return Stream.concat(values(walk), words);
  }

  private Stream<Completion> values(Walk walk) {
    return switch (walk.part) {
      case FROM -> walk.said.fromZone == null ? zones() : Stream.empty();
      case TO ->
          Stream.concat(
              walk.said.toZone == null ? zones() : Stream.empty(),
              walk.said.host == null ? hosts() : Stream.empty());
      case AS -> walk.said.person == null ? people() : Stream.empty();
      case ON ->
          walk.said.device == null
              ? deviceKinds.stream().map(kind -> new Completion(kind, "device", ""))
              : Stream.of("healthy", "unhealthy").map(p -> new Completion(p, "posture", ""));
      case USING -> walk.said.use == null ? applications() : features(walk);
      case AT ->
          Stream.of("mon", "tue", "wed", "thu", "fri", "sat", "sun")
              .filter(day -> walk.said.at == null)
              .map(day -> new Completion(day, "day", ""));
    };
  }

  private Stream<Completion> zones() {
    return environment.zones().stream()
        .map(zone -> new Completion(zone.name(), "zone", zone.note()));
  }

  private Stream<Completion> hosts() {
    return environment.atlas().hosts().keySet().stream()
        .sorted()
        .map(host -> new Completion(host, "host name", environment.atlas().category(host)));
  }

  private Stream<Completion> people() {
    return environment.directory().people().stream()
        .map(person -> new Completion(person.login(), "person", describe(person)));
  }

  private static String describe(Directory.Person person) {
    return person.name() + " · " + String.join(", ", person.groups());
  }

  private Stream<Completion> applications() {
    return environment.catalogue().applications().stream()
        .map(a -> new Completion(a.name(), "application", a.grouping().category()));
  }

  private Stream<Completion> features(Walk walk) {
    boolean slash = walk.at > 0 && walk.text.charAt(walk.at - 1) == '/';
    List<Completion> features = new ArrayList<>();
    if (slash || walk.said.use.feature().isPresent()) {
      walk.said
          .use
          .application()
          .flatMap(environment.catalogue()::application)
          .ifPresent(
              a -> a.features().forEach(f -> features.add(new Completion(f, "feature", a.name()))));
    }
    return features.stream();
  }
}
