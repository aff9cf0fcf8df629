package ironsieve.decide;

import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Tape;
import java.time.LocalDateTime;
import java.util.ArrayList;
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
   * @param last when the last of them was seen
   */
  public record Count(long times, LocalDateTime last) {

    private static Optional<Count> of(List<Tape.Line> lines) {
      return lines.stream()
          .map(line -> line.connection().at())
          .max(Comparator.naturalOrder())
          .map(last -> new Count(lines.stream().mapToLong(Tape.Line::times).sum(), last));
    }
  }

  /** The hits of all tapes together. */
  public static Hits of(CompiledRulebase compiled, List<Tape> tapes) {
    return of(compiled, Traffic.of(tapes));
  }

  /** The hits of recorded traffic. */
  public static Hits of(CompiledRulebase compiled, Traffic traffic) {
    Hits hits = new Hits(compiled);
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
        hits.drop(line, rules[next++]);
      }
    }
    return hits;
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

  /** The numbers of the rules that were hit at all. */
  public BitSet rules() {
    BitSet hit = new BitSet();
    byRule.keySet().forEach(hit::set);
    return hit;
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
