package ironsieve.traffic.view;

import ironsieve.compile.Dimension;
import ironsieve.model.Application;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Place;
import ironsieve.model.Environment;
import ironsieve.model.Tape;
import ironsieve.model.Tape.Unsaid;
import ironsieve.recorded.BlockLines;
import ironsieve.recorded.LineBlock;
import ironsieve.recorded.Minutes;
import ironsieve.recorded.MostFrequent;
import ironsieve.recorded.RecordedDecisions;
import ironsieve.recorded.TapeColumns;
import ironsieve.recorded.Traffic;
import ironsieve.recorded.Values;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.text.OutcomeText;
import ironsieve.text.ValueText;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;

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

  /** Where there can be no such connection any more, or nobody decided it. */
  public static final String CANNOT_BE_RUN = "cannot be run";

  /** The three answers to whether a connection was recognised. */
  public static final String RECOGNISED = "recognised";

  public static final String CARRIER_ONLY = "only its carrier";
  public static final String UNRECOGNISED = "not recognised";

  /** Protocols that others are inside of: who is recognised as one of them is hardly recognised. */
  private static final Set<String> CARRIERS = Set.of("TLS", "QUIC", "HTTP");

  /** So many narrowings are remembered with all that fits them, and of more only the steps. */
  private static final int REMEMBERED = 3;

  private static final int MOST_STEPS_REMEMBERED = 200;

  private final Environment environment;
  private final List<TapeColumns> tapes;
  private final Optional<RecordedDecisions> decisions;
  private final Map<By, List<Labels>> labels = new EnumMap<>(By.class);
  private final Map<Narrowing, Summed> scans = new LinkedHashMap<>(8, 0.75f, true);
  private final Map<Narrowing, List<Step>> steps = new LinkedHashMap<>(64, 0.75f, true);
  // Several tapes are labelled at once.
  private final Map<String, List<String>> groups = new ConcurrentHashMap<>();
  private final TreeMap<Address, Country> countries = new TreeMap<>();
  private final StepsOfTime time;

  private record Country(Address high, String code) {}

  /** What fits a narrowing, and what was added up of it by somebody who asked. */
  private record Summed(Scan scan, Map<By, Map<String, Sum>> by) {}

  /** How much there is of something. */
  public record Sum(long times, long up, long down) {

    public static final Sum NOTHING = new Sum(0, 0, 0);

    /** With more. */
    public Sum and(Sum other) {
      return new Sum(times + other.times, up + other.up, down + other.down);
    }

    /** With another line. */
    public Sum and(Tape.Line line) {
      return and(new Sum(line.times(), line.volume().up(), line.volume().down()));
    }

    private static Sum of(long[][] sums, int at) {
      return new Sum(sums[0][at], sums[1][at], sums[2][at]);
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

    /**
     * What {@code application:Chatterbay} and its like narrow to.
     *
     * @param only each a {@link By#word}, a colon and a value; several values of one are either
     * @throws IllegalArgumentException saying which is none, and what is right
     */
    public static Map<By, Set<String>> wanted(List<String> only) {
      Map<By, Set<String>> wanted = new LinkedHashMap<>();
      for (String one : only) {
        int colon = one.indexOf(':');
        if (colon < 0) {
          throw new IllegalArgumentException(
              "what to narrow to is written application:NAME, not \"" + one + "\"");
        }
        wanted
            .computeIfAbsent(By.demand(one.substring(0, colon)), by -> new HashSet<>())
            .add(one.substring(colon + 1));
      }
      return wanted;
    }
  }

  /**
   * A recorded connection with what a rulebase would do with it.
   *
   * @param tape the name of the tape it is on
   */
  public record Decided(String tape, Tape.Line line, RecordedDecisions.Decision decision) {}

  /** Some connections that are looked at, most frequent first, and how many more there are. */
  public record Lines(List<Decided> some, long more) {}

  /** Decided traffic in its surroundings. */
  public TrafficView(Environment environment, RecordedDecisions decisions) {
    this(environment, decisions.traffic(), Optional.of(decisions));
  }

  /** Tapes that nobody decided: by rule and verdict there is nothing to be seen. */
  public TrafficView(Environment environment, List<TapeColumns> tapes) {
    this(environment, Traffic.ofColumns(tapes), Optional.empty());
  }

  private TrafficView(
      Environment environment, Traffic traffic, Optional<RecordedDecisions> decisions) {
    this.environment = environment;
    tapes = traffic.tapes();
    this.decisions = decisions;
    time = StepsOfTime.of(traffic.first(), traffic.last());
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
  public synchronized Sum total(Narrowing narrowing) {
    Scan scan = scan(narrowing);
    Sum sum = Sum.NOTHING;
    for (int t = 0; t < tapes.size(); t++) {
      sum = sum.and(Sum.of(scan.byTape, t));
    }
    return sum;
  }

  /**
   * The bars of one of them, longest first. What is chosen of it does not take the others away.
   *
   * @param byBytes whether bytes count, and not connections
   */
  public List<Bar> bars(By by, Narrowing narrowing, boolean byBytes) {
    return top(by, narrowing, byBytes, Integer.MAX_VALUE).bars();
  }

  /** Some bars, and how many more there are. */
  public record Top(List<Bar> bars, int more) {}

  /** The longest of the bars, so many of them; quicker than all of them, where they are many. */
  public Top top(By by, Narrowing narrowing, boolean byBytes, int most) {
    Comparator<Bar> order =
        Comparator.comparingLong((Bar bar) -> byBytes ? bar.sum().bytes() : bar.sum().times())
            .reversed()
            .thenComparing(Bar::value);
    Map<String, Sum> sums = sums(by, narrowing);
    PriorityQueue<Bar> longest = new PriorityQueue<>(order.reversed());
    sums.forEach(
        (value, sum) -> {
          Bar bar = new Bar(value, sum);
          if (longest.size() < most) {
            longest.add(bar);
          } else if (order.compare(bar, longest.peek()) < 0) {
            longest.poll();
            longest.add(bar);
          }
        });
    return new Top(longest.stream().sorted(order).toList(), sums.size() - longest.size());
  }

  /**
   * Adds up for several of them at once, on all processors; asking for their bars is quick then.
   */
  public synchronized void addUp(List<By> several, Narrowing narrowing) {
    Summed summed = summed(narrowing);
    List<By> missing =
        several.stream().distinct().filter(by -> !summed.by().containsKey(by)).toList();
    // Found first: several threads that need labels would wait for whoever looks for them.
    missing.stream().filter(by -> by != By.TAPE && !isByCode(by)).forEach(this::labels);
    List<Map<String, Sum>> sums =
        missing.parallelStream().map(by -> sums(by, narrowing, summed.scan())).toList();
    for (int i = 0; i < sums.size(); i++) {
      summed.by().put(missing.get(i), sums.get(i));
    }
  }

  private synchronized Map<String, Sum> sums(By by, Narrowing narrowing) {
    Summed summed = summed(narrowing);
    Map<String, Sum> known = summed.by().get(by);
    if (known == null) {
      addUp(List.of(by), narrowing);
      known = summed.by().get(by);
    }
    return known;
  }

  /** Of labels that were found before. */
  private Map<String, Sum> sums(By by, Narrowing narrowing, Scan scan) {
    List<By> filters = List.copyOf(narrowing.only().keySet());
    Map<String, Sum> sums = new HashMap<>();
    if (by == By.TAPE) {
      for (int t = 0; t < tapes.size(); t++) {
        add(sums, tapes.get(t).name(), Sum.of(scan.byTape, t));
      }
    } else if (isByCode(by)) {
      addCodes(sums, by, scan.byCode);
    } else {
      for (int t = 0; t < tapes.size(); t++) {
        Labels of = labels.get(by).get(t);
        addKeys(sums, of, of.sums(scan.byConversation[t]));
      }
    }
    if (filters.contains(by)) {
      addKeptOut(sums, by, scan.keptOut[filters.indexOf(by)]);
    }
    return sums;
  }

  private void addKeptOut(Map<String, Sum> sums, By by, long[][][] keptOut) {
    for (int t = 0; t < tapes.size(); t++) {
      if (by == By.TAPE) {
        for (int code = 0; code < keptOut[t][0].length; code++) {
          add(sums, tapes.get(t).name(), Sum.of(keptOut[t], code));
        }
      } else if (isByCode(by)) {
        addCodes(sums, by, keptOut[t]);
      } else {
        addKeys(sums, labels.get(by).get(t), keptOut[t]);
      }
    }
  }

  private void addCodes(Map<String, Sum> sums, By by, long[][] byCode) {
    for (int code = 0; code < byCode[0].length; code++) {
      add(sums, ofCode(by, code), Sum.of(byCode, code));
    }
  }

  private static void addKeys(Map<String, Sum> sums, Labels of, long[][] byKey) {
    for (int key = 0; key < byKey[0].length; key++) {
      if (byKey[0][key] != 0) {
        for (String label : of.texts(key)) {
          add(sums, label, Sum.of(byKey, key));
        }
      }
    }
  }

  private static void add(Map<String, Sum> sums, String label, Sum more) {
    if (more.times() > 0) {
      sums.merge(label, more, Sum::and);
    }
  }

  /** What each rule or verdict had in each step of time; values with nothing are left out. */
  public List<Map<String, Sum>> stepsBy(By by, Narrowing narrowing) {
    if (!isByCode(by)) {
      throw new IllegalArgumentException("over time there are sums by rule and by verdict");
    }
    Narrowing always = new Narrowing(narrowing.only(), null, null);
    NarrowedLines fitting = new NarrowedLines(always);
    long[][][] sums =
        new long[time.count()][Scan.SUMS][decisions.map(RecordedDecisions::codeCount).orElse(1)];
    fitting.each(
        (tape, block, line, code, minute, values) -> {
          long[][] of = sums[time.step(minute)];
          for (int s = 0; s < Scan.SUMS; s++) {
            of[s][code] += values[s][line];
          }
        });
    List<Map<String, Sum>> all = new ArrayList<>();
    for (long[][] step : sums) {
      Map<String, Sum> of = new HashMap<>();
      addCodes(of, by, step);
      all.add(of);
    }
    return all;
  }

  /** What is looked at over time, in even steps; without what the narrowing says of time. */
  public synchronized List<Step> steps(Narrowing narrowing) {
    Narrowing always = new Narrowing(narrowing.only(), null, null);
    List<Step> known = steps.get(always);
    if (known == null) {
      Scan scan = scan(narrowing);
      known = new ArrayList<>();
      for (int i = 0; i < time.count(); i++) {
        known.add(new Step(time.begin(i), Sum.of(scan.bySteps, i)));
      }
      steps.put(always, known);
      if (steps.size() > MOST_STEPS_REMEMBERED) {
        steps.remove(steps.keySet().iterator().next());
      }
    }
    return known;
  }

  /** Some of the connections that are looked at, most frequent first. */
  public Lines lines(Narrowing narrowing, int most) {
    MostFrequent found = new MostFrequent(most);
    long[] count = {0};
    new NarrowedLines(narrowing)
        .each(
            (tape, block, line, code, minute, values) -> {
              count[0]++;
              found.offer(values[0][line], tape, block, line);
            });
    List<Decided> some = new ArrayList<>();
    for (MostFrequent.One one : found.inOrder()) {
      some.add(
          new Decided(
              tapes.get(one.tape()).name(),
              tapes.get(one.tape()).line(one.block(), one.line()),
              decision(code(one.tape(), one.block(), one.line()))));
    }
    return new Lines(some, count[0] - some.size());
  }

  private int code(int tape, int block, int line) {
    return decisions.map(of -> of.code(tape, block, line)).orElse(0);
  }

  private RecordedDecisions.Decision decision(int code) {
    return decisions
        .map(of -> of.decision(code))
        .orElseGet(() -> new RecordedDecisions.Decision(List.of(), Set.of()));
  }

  /** Told of lines that fit. */
  private interface Fitting {
    void line(int tape, int block, int line, int code, int minute, long[][] values);
  }

  /** The lines that fit a narrowing, one after the other. */
  private final class NarrowedLines {
    private final FiltersOf filters;

    private NarrowedLines(Narrowing narrowing) {
      filters = new FiltersOf(narrowing);
    }

    private void each(Fitting to) {
      BlockLines lines = new BlockLines();
      int[] codes = new int[LineBlock.MOST];
      int[] codesOut = filters.keepOutCodes();
      for (int t = 0; t < tapes.size(); t++) {
        int[] out = filters.keepOut(t);
        if (filters.keepOutTape(t) != 0) {
          continue;
        }
        for (int b = 0; b < tapes.get(t).blocks().size(); b++) {
          lines.read(tapes.get(t).blocks().get(b));
          if (decisions.isPresent()) {
            decisions.get().codes(t, b, codes);
          }
          for (int i = 0; i < lines.count(); i++) {
            int minute = lines.minutes()[i];
            boolean fits =
                (out[lines.conversations()[i]] | codesOut[codes[i]]) == 0
                    && minute >= filters.from()
                    && minute < filters.to();
            if (fits) {
              to.line(t, b, i, codes[i], minute, lines.sums());
            }
          }
        }
      }
    }
  }

  private Scan scan(Narrowing narrowing) {
    return summed(narrowing).scan();
  }

  private Summed summed(Narrowing narrowing) {
    Summed known = scans.get(narrowing);
    if (known == null) {
      Scan scan = Scan.of(tapes, decisions, new FiltersOf(narrowing));
      known = new Summed(scan, new EnumMap<>(By.class));
      scans.put(narrowing, known);
      if (scans.size() > REMEMBERED) {
        scans.remove(scans.keySet().iterator().next());
      }
    }
    return known;
  }

  /** A narrowing as it is asked of lines. */
  private final class FiltersOf implements Scan.Filters {
    private final List<By> kinds;
    private final List<Set<String>> wanted;
    private final List<int[]> conversations = new ArrayList<>();
    private final List<List<Labels>> labels;
    private final int[] codes;
    private final int from;
    private final int to;

    private FiltersOf(Narrowing narrowing) {
      kinds = List.copyOf(narrowing.only().keySet());
      wanted = kinds.stream().map(narrowing.only()::get).toList();
      // Found before several threads go through the lines: who waits for labels would wait for
      // them.
      labels =
          kinds.stream()
              .map(
                  by ->
                      by == By.TAPE || isByCode(by)
                          ? List.<Labels>of()
                          : TrafficView.this.labels(by))
              .toList();
      from = narrowing.from() == null ? Integer.MIN_VALUE : minute(narrowing.from());
      to = narrowing.to() == null ? Integer.MAX_VALUE : minute(narrowing.to());
      codes = new int[decisions.map(RecordedDecisions::codeCount).orElse(1)];
      for (int f = 0; f < kinds.size(); f++) {
        for (int code = 0; isByCode(kinds.get(f)) && code < codes.length; code++) {
          codes[code] |= wanted.get(f).contains(ofCode(kinds.get(f), code)) ? 0 : 1 << f;
        }
      }
      for (int t = 0; t < tapes.size(); t++) {
        conversations.add(keptOut(t));
      }
    }

    /** A time that is no whole minute bounds from the next one on. */
    private static int minute(LocalDateTime at) {
      int minute = Minutes.nearest(at);
      return Minutes.time(minute).isBefore(at) ? minute + 1 : minute;
    }

    private int[] keptOut(int tape) {
      int[] out = new int[tapes.get(tape).conversations().count()];
      for (int f = 0; f < kinds.size(); f++) {
        Labels of = labels(f, tape);
        if (of == null) {
          continue;
        }
        Set<String> values = wanted.get(f);
        boolean[] isIn = new boolean[of.keys()];
        for (int key = 0; key < isIn.length; key++) {
          isIn[key] = of.texts(key).stream().anyMatch(values::contains);
        }
        for (int c = 0; c < out.length; c++) {
          out[c] |= isIn[of.key(c)] ? 0 : 1 << f;
        }
      }
      return out;
    }

    @Override
    public int count() {
      return kinds.size();
    }

    @Override
    public int[] keepOut(int tape) {
      return conversations.get(tape);
    }

    @Override
    public int[] keepOutCodes() {
      return codes;
    }

    @Override
    public Labels labels(int filter, int tape) {
      return labels.get(filter).isEmpty() ? null : labels.get(filter).get(tape);
    }

    @Override
    public int keepOutTape(int tape) {
      int at = kinds.indexOf(By.TAPE);
      return at < 0 || wanted.get(at).contains(tapes.get(tape).name()) ? 0 : 1 << at;
    }

    @Override
    public int from() {
      return from;
    }

    @Override
    public int to() {
      return to;
    }

    @Override
    public int step(int minute) {
      return time.step(minute);
    }

    @Override
    public int steps() {
      return time.count();
    }
  }

  private static boolean isByCode(By by) {
    return by == By.RULE || by == By.VERDICT;
  }

  private String ofCode(By by, int code) {
    return by == By.VERDICT ? verdict(decision(code)) : rule(decision(code));
  }

  /** The verdict of a decision, or that it depends, or that there can be no such connection. */
  public static String verdict(RecordedDecisions.Decision decision) {
    return decision
        .verdict()
        .map(verdict -> verdict.name().toLowerCase(java.util.Locale.ROOT))
        .orElse(decision.rules().isEmpty() ? CANNOT_BE_RUN : DEPENDS);
  }

  /** What happens by a decision, lane and notice included; or one of the same. */
  public static String outcome(RecordedDecisions.Decision decision) {
    return decision.verdict().isEmpty()
        ? verdict(decision)
        : decision.outcomes().stream()
            .map(OutcomeText::print)
            .sorted()
            .collect(java.util.stream.Collectors.joining(" or "));
  }

  /** The rule of a decision, or one of the same. */
  public static String rule(RecordedDecisions.Decision decision) {
    if (decision.rules().size() == 1) {
      return decision.rules().get(0).orElse(DEFAULT_VERDICT);
    }
    return decision.rules().isEmpty() ? CANNOT_BE_RUN : DEPENDS;
  }

  private synchronized List<Labels> labels(By by) {
    List<Labels> known = labels.get(by);
    if (known == null) {
      known = tapes.parallelStream().map(tape -> labels(by, tape)).toList();
      labels.put(by, known);
    }
    return known;
  }

  private Labels labels(By by, TapeColumns tape) {
    Values values = tape.values();
    return switch (by) {
      case APPLICATION ->
          uses(tape, use -> use.application().orElse(NONE), Optional.of(Unsaid.APPLICATION));
      case FEATURE ->
          uses(
              tape,
              use ->
                  use.feature()
                      .flatMap(feature -> use.application().map(name -> name + "/" + feature))
                      .orElse(NONE),
              Optional.empty());
      case FAMILY ->
          uses(
              tape,
              use ->
                  application(use)
                      .map(application -> application.grouping().family())
                      .filter(family -> !family.isEmpty())
                      .orElse(NONE),
              Optional.empty());
      case CATEGORY ->
          uses(
              tape,
              use ->
                  application(use)
                      .map(application -> application.grouping().category())
                      .orElse(NONE),
              Optional.of(Unsaid.APPLICATION));
      case RECOGNISED ->
          new Labels(
              tape.conversations(),
              Dimension.USING,
              values.uses(),
              use -> List.of(recognised(use, Set.of())),
              Optional.of(Unsaid.APPLICATION),
              false);
      case PERSON ->
          new Labels(
              tape.conversations(),
              Dimension.PERSON,
              values.people(),
              login -> List.of(login.orElse("unidentified")),
              Optional.of(Unsaid.PERSON),
              false);
      case GROUP ->
          new Labels(
              tape.conversations(),
              Dimension.PERSON,
              values.people(),
              login -> login.map(this::groups).orElse(List.of(NONE)),
              Optional.of(Unsaid.PERSON),
              false);
      case DEVICE ->
          new Labels(
              tape.conversations(),
              Dimension.DEVICE,
              values.devices(),
              device -> List.of(device.kind()),
              Optional.of(Unsaid.DEVICE),
              false);
      case FROM_ZONE -> places(tape, Dimension.FROM, Place::zone);
      case TO_ZONE -> places(tape, Dimension.TO, Place::zone);
      case SOURCE -> places(tape, Dimension.FROM, place -> place.address().toString());
      case DESTINATION -> places(tape, Dimension.TO, place -> place.address().toString());
      case COUNTRY -> places(tape, Dimension.TO, place -> country(place.address()));
      case HOST ->
          new Labels(
              tape.conversations(),
              Dimension.SITE,
              values.hosts(),
              host -> List.of(host.orElse(NONE)),
              Optional.of(Unsaid.HOST),
              true);
      case SITE ->
          new Labels(
              tape.conversations(),
              Dimension.SITE,
              values.hosts(),
              host -> List.of(host.map(environment.atlas()::category).orElse(NONE)),
              Optional.of(Unsaid.HOST),
              true);
      case SERVICE ->
          new Labels(
              tape.conversations(),
              Dimension.SERVICE,
              values.services(),
              service -> List.of(ValueText.print(service)),
              Optional.empty(),
              false);
      case RULE, VERDICT, TAPE -> throw new IllegalArgumentException(by + " has no labels");
    };
  }

  private static Labels uses(
      TapeColumns tape, Function<ApplicationUse, String> label, Optional<Unsaid> unsaid) {
    return new Labels(
        tape.conversations(),
        Dimension.USING,
        tape.values().uses(),
        use -> List.of(label.apply(use)),
        unsaid,
        true);
  }

  private static Labels places(TapeColumns tape, Dimension end, Function<Place, String> label) {
    return new Labels(
        tape.conversations(),
        end,
        end == Dimension.FROM ? tape.values().from() : tape.values().to(),
        place -> List.of(label.apply(place)),
        Optional.empty(),
        false);
  }

  /** Whether a connection was recognised. */
  public static String recognised(Tape.Line line) {
    return recognised(line.connection().using(), line.unsaid());
  }

  /** Whether an answer to that is that nobody knows what it is. */
  public static boolean isUnrecognised(String recognised) {
    return recognised.equals(UNRECOGNISED) || recognised.equals(CARRIER_ONLY);
  }

  /** Whether the use of a connection was recognised, of which so much is not said. */
  public static String recognised(ApplicationUse use, Set<Unsaid> unsaid) {
    if (unsaid.contains(Unsaid.APPLICATION)) {
      return NOT_SAID;
    }
    Optional<String> application = use.application();
    if (application.isEmpty()) {
      return UNRECOGNISED;
    }
    return CARRIERS.contains(application.get()) ? CARRIER_ONLY : RECOGNISED;
  }

  private Optional<Application> application(ApplicationUse use) {
    return use.application().flatMap(environment.catalogue()::application);
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
