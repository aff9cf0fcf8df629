package ironsieve.decide;

import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Tape;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a rulebase would catch of recorded traffic: every line of every tape dropped into it. Hits
 * are those of the rulebase as it is, not of the one that was in force when the traffic was seen.
 */
public final class Hits {

  private static final Comparator<Tape.Line> OFTEN =
      Comparator.comparingLong(Tape.Line::times).reversed();

  private final CompiledRulebase compiled;
  private final Map<Integer, List<Tape.Line>> byRule = new HashMap<>();
  private final List<Tape.Line> byDefaultVerdict = new ArrayList<>();
  private final List<Tape.Line> impossible = new ArrayList<>();
  private final List<Depending> depending = new ArrayList<>();
  private Optional<Period> period = Optional.empty();
  private long times;
  private long gone;

  private Hits(CompiledRulebase compiled) {
    this.compiled = compiled;
  }

  /** From the first connection on the tapes to the last. */
  public record Period(LocalDateTime from, LocalDateTime to) {

    private Period and(LocalDateTime at) {
      return new Period(at.isBefore(from) ? at : from, at.isAfter(to) ? at : to);
    }

    /** Whole days, at least one. */
    public long days() {
      return Math.max(1, java.time.Duration.between(from, to).toDays());
    }
  }

  /**
   * How often something was hit.
   *
   * @param times how many connections
   * @param volume how much went over them
   * @param last when the last of them was seen
   */
  public record Count(long times, Tape.Volume volume, LocalDateTime last) {

    private static Optional<Count> of(List<Tape.Line> lines) {
      return lines.stream()
          .map(line -> line.connection().at())
          .max(Comparator.naturalOrder())
          .map(
              last ->
                  new Count(
                      lines.stream().mapToLong(Tape.Line::times).sum(),
                      lines.stream()
                          .map(Tape.Line::volume)
                          .reduce(Tape.Volume.NONE, Tape.Volume::and),
                      last));
    }
  }

  /**
   * A line of which so little is said that several rules may have caught it.
   *
   * @param rules the ids of those that may, topmost first; nothing stands for the default verdict
   */
  public record Depending(Tape.Line line, List<Optional<String>> rules) {}

  /** The hits of all tapes together. */
  public static Hits of(CompiledRulebase compiled, List<Tape> tapes) {
    return of(compiled, Traffic.of(tapes));
  }

  /** The hits of recorded traffic. */
  public static Hits of(CompiledRulebase compiled, Traffic traffic) {
    Hits hits = new Hits(compiled);
    PartlyKnown partly = new PartlyKnown(compiled);
    hits.gone = traffic.gone();
    hits.times = traffic.gone();
    List<Optional<int[]>> points = traffic.points(compiled.space());
    int[] rules =
        compiled.firstMatches(
            points.stream().filter(Optional::isPresent).map(Optional::get).toArray(int[][]::new));
    int next = 0;
    for (int i = 0; i < points.size(); i++) {
      Tape.Line line = traffic.lines().get(i);
      hits.count(line);
      if (points.get(i).isEmpty()) {
        hits.impossible.add(line);
      } else {
        int rule = rules[next++];
        if (line.unsaid().isEmpty()) {
          hits.drop(line, rule);
        } else {
          hits.dropPartlyKnown(line, points.get(i).get(), partly);
        }
      }
    }
    return hits;
  }

  private void dropPartlyKnown(Tape.Line line, int[] point, PartlyKnown partly) {
    int[] possible = partly.rules(partly.catches(point, line.unsaid()));
    if (possible.length == 1) {
      drop(line, possible[0]);
    } else {
      depending.add(
          new Depending(
              line,
              Arrays.stream(possible)
                  .mapToObj(
                      rule ->
                          rule < 0
                              ? Optional.<String>empty()
                              : Optional.of(compiled.rules().get(rule).rule().id()))
                  .toList()));
    }
  }

  private void count(Tape.Line line) {
    LocalDateTime at = line.connection().at();
    period = Optional.of(period.map(known -> known.and(at)).orElse(new Period(at, at)));
    times += line.times();
  }

  private void drop(Tape.Line line, int rule) {
    if (rule < 0) {
      byDefaultVerdict.add(line);
    } else {
      byRule.computeIfAbsent(rule, number -> new ArrayList<>()).add(line);
    }
  }

  /** How often each rule was hit that was hit at all, by id. */
  public Map<String, Count> counts() {
    Map<String, Count> counts = new HashMap<>();
    byRule.forEach(
        (rule, lines) ->
            Count.of(lines)
                .ifPresent(count -> counts.put(compiled.rules().get(rule).rule().id(), count)));
    return counts;
  }

  /** The numbers of the rules that were hit at all, or may have been. */
  public BitSet rules() {
    BitSet hit = new BitSet();
    byRule.keySet().forEach(hit::set);
    for (Depending one : depending) {
      one.rules().stream()
          .flatMap(Optional::stream)
          .flatMap(id -> compiled.rule(id).stream())
          .forEach(rule -> hit.set(rule.index()));
    }
    return hit;
  }

  /** What several rules may have caught, the most frequent first. */
  public List<Depending> depending() {
    return depending.stream().sorted(Comparator.comparing(Depending::line, OFTEN)).toList();
  }

  /** How often each rule may have been hit beside its hits, by id. */
  public Map<String, Long> possibleCounts() {
    Map<String, Long> counts = new HashMap<>();
    for (Depending one : depending) {
      one.rules().stream()
          .flatMap(Optional::stream)
          .forEach(id -> counts.merge(id, one.line().times(), Long::sum));
    }
    return counts;
  }

  /** How often the default verdict was hit, if it was. */
  public Optional<Count> defaultVerdict() {
    return Count.of(byDefaultVerdict);
  }

  /**
   * How many connections there can no longer be: an address lies behind another zone now, or they
   * name somebody or something that is gone.
   */
  public long impossible() {
    return gone + impossible.stream().mapToLong(Tape.Line::times).sum();
  }

  /** What a rule caught, the most frequent first. */
  public List<Tape.Line> caughtBy(String rule) {
    return compiled
        .rule(rule)
        .map(one -> byRule.getOrDefault(one.index(), List.of()))
        .orElse(List.of())
        .stream()
        .sorted(OFTEN)
        .toList();
  }

  /** What fell on the default verdict, the most frequent first. */
  public List<Tape.Line> caughtByDefaultVerdict() {
    return byDefaultVerdict.stream().sorted(OFTEN).toList();
  }

  /** When the traffic was seen; nothing if there is none. */
  public Optional<Period> period() {
    return period;
  }

  /** How many connections were seen. */
  public long times() {
    return times;
  }
}
