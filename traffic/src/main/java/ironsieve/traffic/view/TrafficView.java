package ironsieve.traffic.view;

import ironsieve.model.Application;
import ironsieve.model.Connection;
import ironsieve.model.Environment;
import ironsieve.model.Tape;
import ironsieve.model.Tape.Unsaid;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.text.ValueText;
import java.time.Duration;
import java.time.LocalDateTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * Sums over recorded traffic. Groups of a person are all that hold them, so a connection counts for
 * each; everything else has one value for a connection, and what its record does not say is a value
 * of its own.
 */
public final class TrafficView {

  /** What a record does not say. */
  public static final String NOT_SAID = "not said";

  /** Stands for no application, host, person and so on. */
  public static final String NONE = "none";

  /** The ids of rules cannot be this. */
  public static final String DEFAULT_VERDICT = "default verdict";

  /** Where several rules may have caught it. */
  public static final String DEPENDS = "it depends";

  /** The three answers to whether a connection was recognised. */
  public static final String RECOGNISED = "recognised";

  public static final String CARRIER_ONLY = "only what it is inside of";
  public static final String UNRECOGNISED = "not recognised";

  /** Protocols that others are inside of: who is recognised as one of them is hardly recognised. */
  private static final Set<String> CARRIERS = Set.of("TLS", "QUIC", "HTTP");

  private static final int MOST_STEPS = 60;
  private static final List<Duration> STEPS =
      List.of(
          Duration.ofMinutes(1),
          Duration.ofMinutes(5),
          Duration.ofMinutes(15),
          Duration.ofHours(1),
          Duration.ofHours(6),
          Duration.ofDays(1),
          Duration.ofDays(7),
          Duration.ofDays(28));

  private final Environment environment;
  private final List<Decided> lines;
  private final Map<String, List<String>> groups = new HashMap<>();
  private final Map<String, String> sites = new HashMap<>();
  private final TreeMap<Address, Country> countries = new TreeMap<>();

  private record Country(Address high, String code) {}

  /** How much there is of something. */
  public record Sum(long times, long up, long down) {

    public static final Sum NOTHING = new Sum(0, 0, 0);

    /** With another line. */
    public Sum and(Tape.Line line) {
      return new Sum(times + line.times(), up + line.volume().up(), down + line.volume().down());
    }

    /** Bytes both ways. */
    public long bytes() {
      return up + down;
    }
  }

  /** One bar: a value, and how much of the traffic has it. */
  public record Bar(String value, Sum sum) {}

  /** One step of time. */
  public record Step(LocalDateTime from, Sum sum) {}

  /**
   * What to look at.
   *
   * @param only for some of what there is the values wanted
   * @param from nothing before this; null for no bound
   * @param to nothing from this on; null for no bound
   */
  public record Narrowing(Map<By, Set<String>> only, LocalDateTime from, LocalDateTime to) {

    /** All of it. */
    public static final Narrowing NONE = new Narrowing(Map.of(), null, null);

    public Narrowing {
      only = Map.copyOf(only);
    }

    /** The same without what it says of one of them: so the other bars stay to choose from. */
    Narrowing without(By by) {
      Map<By, Set<String>> others = new HashMap<>(only);
      others.remove(by);
      return new Narrowing(others, from, to);
    }
  }

  /** Decided lines in their surroundings. */
  public TrafficView(Environment environment, List<Decided> lines) {
    this.environment = environment;
    this.lines = lines;
    environment
        .atlas()
        .countries()
        .forEach(
            (code, ranges) -> {
              for (Range<Address> range : ranges) {
                countries.put(range.low(), new Country(range.high(), code));
              }
            });
  }

  /** How much there is of what is looked at. */
  public Sum total(Narrowing narrowing) {
    Sum sum = Sum.NOTHING;
    for (Decided one : lines) {
      if (fits(one, narrowing)) {
        sum = sum.and(one.line());
      }
    }
    return sum;
  }

  /**
   * The bars of one of them, longest first. What is chosen of it does not take the others away.
   *
   * @param byBytes whether bytes count, and not connections
   */
  public List<Bar> bars(By by, Narrowing narrowing, boolean byBytes) {
    Narrowing others = narrowing.without(by);
    Map<String, Sum> sums = new HashMap<>();
    for (Decided one : lines) {
      if (fits(one, others)) {
        for (String value : values(by, one)) {
          sums.put(value, sums.getOrDefault(value, Sum.NOTHING).and(one.line()));
        }
      }
    }
    return sums.entrySet().stream()
        .map(entry -> new Bar(entry.getKey(), entry.getValue()))
        .sorted(
            Comparator.comparingLong((Bar bar) -> byBytes ? bar.sum().bytes() : bar.sum().times())
                .reversed()
                .thenComparing(Bar::value))
        .toList();
  }

  /** What each value of one of them had in each step of time; values with nothing are left out. */
  public List<Map<String, Sum>> stepsBy(By by, Narrowing narrowing) {
    List<Step> steps = steps(narrowing);
    List<Map<String, Sum>> all = new ArrayList<>();
    steps.forEach(step -> all.add(new HashMap<>()));
    if (steps.isEmpty()) {
      return all;
    }
    Narrowing always = new Narrowing(narrowing.only(), null, null);
    LocalDateTime begin = steps.get(0).from();
    Duration each =
        steps.size() < 2 ? Duration.ofDays(28) : Duration.between(begin, steps.get(1).from());
    for (Decided one : lines) {
      if (fits(one, always)) {
        int at =
            steps.size() < 2
                ? 0
                : (int) Duration.between(begin, one.line().connection().at()).dividedBy(each);
        for (String value : values(by, one)) {
          all.get(at).put(value, all.get(at).getOrDefault(value, Sum.NOTHING).and(one.line()));
        }
      }
    }
    return all;
  }

  /** What is looked at over time, in even steps; without what the narrowing says of time. */
  public List<Step> steps(Narrowing narrowing) {
    Narrowing always = new Narrowing(narrowing.only(), null, null);
    LocalDateTime first = null;
    LocalDateTime last = null;
    for (Decided one : lines) {
      LocalDateTime at = one.line().connection().at();
      first = first == null || at.isBefore(first) ? at : first;
      last = last == null || at.isAfter(last) ? at : last;
    }
    if (first == null) {
      return List.of();
    }
    Duration whole = Duration.between(first, last);
    Duration step =
        STEPS.stream()
            .filter(one -> whole.toMinutes() / one.toMinutes() < MOST_STEPS)
            .findFirst()
            .orElse(Duration.ofDays(28 * (1 + whole.toDays() / 28 / MOST_STEPS)));
    LocalDateTime begin = first.truncatedTo(ChronoUnit.DAYS);
    begin = begin.plus(step.multipliedBy(Duration.between(begin, first).dividedBy(step)));
    int count = (int) Duration.between(begin, last).dividedBy(step) + 1;
    Sum[] sums = new Sum[count];
    java.util.Arrays.fill(sums, Sum.NOTHING);
    for (Decided one : lines) {
      if (fits(one, always)) {
        int at = (int) Duration.between(begin, one.line().connection().at()).dividedBy(step);
        sums[at] = sums[at].and(one.line());
      }
    }
    List<Step> steps = new ArrayList<>(count);
    for (int i = 0; i < count; i++) {
      steps.add(new Step(begin.plus(step.multipliedBy(i)), sums[i]));
    }
    return steps;
  }

  /** The connections that are looked at, most frequent first. */
  public List<Decided> lines(Narrowing narrowing) {
    return lines.stream()
        .filter(one -> fits(one, narrowing))
        .sorted(Comparator.comparingLong((Decided one) -> one.line().times()).reversed())
        .toList();
  }

  private boolean fits(Decided one, Narrowing narrowing) {
    LocalDateTime at = one.line().connection().at();
    boolean isThen =
        (narrowing.from() == null || !at.isBefore(narrowing.from()))
            && (narrowing.to() == null || at.isBefore(narrowing.to()));
    if (!isThen) {
      return false;
    }
    for (Map.Entry<By, Set<String>> entry : narrowing.only().entrySet()) {
      if (values(entry.getKey(), one).stream().noneMatch(entry.getValue()::contains)) {
        return false;
      }
    }
    return true;
  }

  private List<String> values(By by, Decided one) {
    Connection connection = one.line().connection();
    Set<Unsaid> unsaid = one.line().unsaid();
    return switch (by) {
      case GROUP ->
          unsaid.contains(Unsaid.PERSON)
              ? List.of(NOT_SAID)
              : connection.from().person().map(this::groups).orElse(List.of(NONE));
      case RULE ->
          one.rules().size() == 1
              ? List.of(one.rules().get(0).orElse(DEFAULT_VERDICT))
              : List.of(one.rules().isEmpty() ? "cannot be run" : DEPENDS);
      default -> List.of(value(by, one, connection, unsaid));
    };
  }

  private String value(By by, Decided one, Connection connection, Set<Unsaid> unsaid) {
    return switch (by) {
      case VERDICT ->
          one.verdict()
              .map(verdict -> verdict.name().toLowerCase(java.util.Locale.ROOT))
              .orElse(one.rules().isEmpty() ? "cannot be run" : DEPENDS);
      case APPLICATION ->
          unsaid.contains(Unsaid.APPLICATION)
              ? NOT_SAID
              : connection.using().application().orElse(NONE);
      case FEATURE ->
          connection
              .using()
              .feature()
              .flatMap(
                  feature -> connection.using().application().map(name -> name + "/" + feature))
              .orElse(NONE);
      case FAMILY ->
          application(connection)
              .map(application -> application.grouping().family())
              .filter(family -> !family.isEmpty())
              .orElse(NONE);
      case CATEGORY ->
          application(connection)
              .map(application -> application.grouping().category())
              .orElse(unsaid.contains(Unsaid.APPLICATION) ? NOT_SAID : NONE);
      case RECOGNISED -> recognised(connection, unsaid);
      case PERSON ->
          unsaid.contains(Unsaid.PERSON)
              ? NOT_SAID
              : connection.from().person().orElse("unidentified");
      case DEVICE -> unsaid.contains(Unsaid.DEVICE) ? NOT_SAID : connection.from().device().kind();
      case FROM_ZONE -> connection.from().place().zone();
      case TO_ZONE -> connection.to().zone();
      case SOURCE -> connection.from().place().address().toString();
      case DESTINATION -> connection.to().address().toString();
      case HOST -> connection.to().host().orElse(unsaid.contains(Unsaid.HOST) ? NOT_SAID : NONE);
      case SITE ->
          connection
              .to()
              .host()
              .map(host -> sites.computeIfAbsent(host, environment.atlas()::category))
              .orElse(unsaid.contains(Unsaid.HOST) ? NOT_SAID : NONE);
      case COUNTRY -> country(connection.to().address());
      case SERVICE -> ValueText.print(connection.service());
      case TAPE -> one.tape();
      case RULE, GROUP -> throw new IllegalArgumentException(by + " has several values");
    };
  }

  /** Whether a connection was recognised. */
  public static String recognised(Tape.Line line) {
    return recognised(line.connection(), line.unsaid());
  }

  private static String recognised(Connection connection, Set<Unsaid> unsaid) {
    if (unsaid.contains(Unsaid.APPLICATION)) {
      return NOT_SAID;
    }
    Optional<String> application = connection.using().application();
    if (application.isEmpty()) {
      return UNRECOGNISED;
    }
    return CARRIERS.contains(application.get()) ? CARRIER_ONLY : RECOGNISED;
  }

  private Optional<Application> application(Connection connection) {
    return connection.using().application().flatMap(environment.catalogue()::application);
  }

  private List<String> groups(String login) {
    return groups.computeIfAbsent(
        login,
        who -> {
          List<String> all =
              environment.directory().person(who).stream()
                  .flatMap(person -> environment.directory().groupsOf(person).stream())
                  .sorted()
                  .toList();
          return all.isEmpty() ? List.of(NONE) : all;
        });
  }

  private String country(Address address) {
    Map.Entry<Address, Country> below = countries.floorEntry(address);
    return below == null || address.compareTo(below.getValue().high()) > 0
        ? NONE
        : below.getValue().code();
  }
}
