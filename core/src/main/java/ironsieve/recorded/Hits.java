package ironsieve.recorded;

import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Tape;
import ironsieve.recorded.RecordedDecisions.Decision;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * What a rulebase would catch of recorded traffic: every line of every tape dropped into it. Hits
 * are those of the rulebase as it is, not of the one that was in force when the traffic was seen.
 */
public final class Hits {

  private final RecordedDecisions decisions;
  private final Map<String, Count> counts = new HashMap<>();
  private final Map<String, Long> lines = new HashMap<>();
  private final List<Depending> depending = new ArrayList<>();
  private final Optional<Period> period;
  private final long times;
  private Optional<Count> defaultVerdict = Optional.empty();
  private long impossible;
  private long defaultLines;

  /** From the first connection on the tapes to the last. */
  public record Period(LocalDateTime from, LocalDateTime to) {

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

    private Count and(Count other) {
      return new Count(
          times + other.times,
          volume.and(other.volume),
          last.isAfter(other.last) ? last : other.last);
    }
  }

  /**
   * Lines of which so little is said that several rules may have caught them.
   *
   * @param rules the ids of those that may, topmost first; nothing stands for the default verdict
   */
  public record Depending(List<Optional<String>> rules, Count count) {}

  Hits(RecordedDecisions decisions) {
    this.decisions = decisions;
    times = decisions.traffic().tapes().stream().mapToLong(TapeColumns::times).sum();
    impossible = decisions.traffic().gone();
    OptionalInt first = decisions.traffic().first();
    period =
        first.isEmpty()
            ? Optional.empty()
            : Optional.of(
                new Period(
                    Minutes.time(first.getAsInt()),
                    Minutes.time(decisions.traffic().last().orElseThrow())));
    CatchSums sums = decisions.sums();
    for (int code = 0; code < sums.codes(); code++) {
      if (sums.lines(code) > 0) {
        count(code, sums);
      }
    }
  }

  private void count(int code, CatchSums sums) {
    List<Optional<String>> rules = decisions.decision(code).rules();
    Count count =
        new Count(
            sums.times(code),
            new Tape.Volume(sums.up(code), sums.down(code)),
            Minutes.time(sums.last(code)));
    if (rules.isEmpty()) {
      impossible += count.times();
    } else if (rules.size() > 1) {
      depending.add(new Depending(rules, count));
    } else if (rules.get(0).isEmpty()) {
      defaultVerdict = Optional.of(defaultVerdict.map(count::and).orElse(count));
      defaultLines += sums.lines(code);
    } else {
      counts.merge(rules.get(0).get(), count, Count::and);
      lines.merge(rules.get(0).get(), sums.lines(code), Long::sum);
    }
  }

  /** The hits of all tapes together. */
  public static Hits of(CompiledRulebase compiled, List<Tape> tapes) {
    return of(compiled, Traffic.of(tapes));
  }

  /** The hits of recorded traffic. */
  public static Hits of(CompiledRulebase compiled, Traffic traffic) {
    return RecordedDecisions.of(compiled, traffic).hits();
  }

  /** How often each rule was hit that was hit at all, by id. */
  public Map<String, Count> counts() {
    return Map.copyOf(counts);
  }

  /** The numbers of the rules that were hit at all, or may have been. */
  public BitSet rules() {
    BitSet hit = new BitSet();
    CompiledRulebase compiled = decisions.compiled();
    counts.keySet().forEach(id -> compiled.rule(id).map(CompiledRule::index).ifPresent(hit::set));
    possibleCounts()
        .keySet()
        .forEach(id -> compiled.rule(id).map(CompiledRule::index).ifPresent(hit::set));
    return hit;
  }

  /** What several rules may have caught, the most frequent first. */
  public List<Depending> depending() {
    return depending.stream()
        .sorted(Comparator.comparingLong((Depending one) -> one.count().times()).reversed())
        .toList();
  }

  /** How often each rule may have been hit beside its hits, by id. */
  public Map<String, Long> possibleCounts() {
    Map<String, Long> possible = new HashMap<>();
    for (Depending one : depending) {
      one.rules().stream()
          .flatMap(Optional::stream)
          .forEach(id -> possible.merge(id, one.count().times(), Long::sum));
    }
    return possible;
  }

  /** How often the default verdict was hit, if it was. */
  public Optional<Count> defaultVerdict() {
    return defaultVerdict;
  }

  /**
   * How many connections there can no longer be: an address lies behind another zone now, or they
   * name somebody or something that is gone.
   */
  public long impossible() {
    return impossible;
  }

  /** How many lines a rule caught. */
  public long lines(String rule) {
    return lines.getOrDefault(rule, 0L);
  }

  /** How many lines the default verdict caught. */
  public long defaultVerdictLines() {
    return defaultLines;
  }

  /** Some of what a rule caught, the most frequent first. */
  public List<Tape.Line> caughtBy(String rule, int most) {
    return most(Optional.of(rule), most);
  }

  /** Some of what fell on the default verdict, the most frequent first. */
  public List<Tape.Line> caughtByDefaultVerdict(int most) {
    return most(Optional.empty(), most);
  }

  private List<Tape.Line> most(Optional<String> rule, int most) {
    return decisions.most(
        code -> {
          Decision decision = decisions.decision(code);
          return decision.rules().size() == 1 && decision.rules().get(0).equals(rule);
        },
        most);
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
