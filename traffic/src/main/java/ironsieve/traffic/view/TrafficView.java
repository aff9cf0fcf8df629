package ironsieve.traffic.view;

import ironsieve.model.Environment;
import ironsieve.model.Tape;
import ironsieve.recorded.BlockLines;
import ironsieve.recorded.LineBlock;
import ironsieve.recorded.MostFrequent;
import ironsieve.recorded.RecordedDecisions;
import ironsieve.recorded.TapeColumns;
import ironsieve.recorded.Traffic;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.Set;

/**
 * Sums over recorded traffic. Groups of a person are all that hold them, so a connection counts for
 * each; everything else has one value for a connection, and what its record does not say is a value
 * of its own.
 */
public final class TrafficView {

  /** So many narrowings are remembered with all that fits them, and of more only the steps. */
  private static final int REMEMBERED = 3;

  private static final int MOST_STEPS_REMEMBERED = 200;

  private final LabelMaker labelMaker;
  private final List<TapeColumns> tapes;
  private final Optional<RecordedDecisions> decisions;
  private final Map<By, List<Labels>> labels = new EnumMap<>(By.class);
  private final Map<Narrowing, Summed> scans = new LinkedHashMap<>(8, 0.75f, true);
  private final Map<Narrowing, List<Step>> steps = new LinkedHashMap<>(64, 0.75f, true);
  private final StepsOfTime time;

  /** What fits a narrowing, and what was added up of it by somebody who asked. */
  private record Summed(Scan scan, Map<By, Map<String, Sum>> by) {}

  /** One bar: a value, and how much of the traffic has it. */
  public record Bar(String value, Sum sum) {}

  /** One step of time. */
  public record Step(LocalDateTime from, Sum sum) {}

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
    labelMaker = new LabelMaker(environment);
    tapes = traffic.tapes();
    this.decisions = decisions;
    time = StepsOfTime.of(traffic.first(), traffic.last());
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
    private final NarrowingFilters filters;

    private NarrowedLines(Narrowing narrowing) {
      filters = filters(narrowing);
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

  private NarrowingFilters filters(Narrowing narrowing) {
    return new NarrowingFilters(
        narrowing,
        tapes,
        this::labels,
        decisions.map(RecordedDecisions::codeCount).orElse(1),
        this::ofCode,
        time);
  }

  private Scan scan(Narrowing narrowing) {
    return summed(narrowing).scan();
  }

  private Summed summed(Narrowing narrowing) {
    Summed known = scans.get(narrowing);
    if (known == null) {
      Scan scan = Scan.of(tapes, decisions, filters(narrowing));
      known = new Summed(scan, new EnumMap<>(By.class));
      scans.put(narrowing, known);
      if (scans.size() > REMEMBERED) {
        scans.remove(scans.keySet().iterator().next());
      }
    }
    return known;
  }

  static boolean isByCode(By by) {
    return by == By.RULE || by == By.VERDICT;
  }

  private String ofCode(By by, int code) {
    return by == By.VERDICT
        ? DecisionWords.verdict(decision(code))
        : DecisionWords.rule(decision(code));
  }

  private synchronized List<Labels> labels(By by) {
    List<Labels> known = labels.get(by);
    if (known == null) {
      known = tapes.parallelStream().map(tape -> labelMaker.labels(by, tape)).toList();
      labels.put(by, known);
    }
    return known;
  }
}
