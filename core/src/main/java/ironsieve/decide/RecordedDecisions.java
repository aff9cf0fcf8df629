package ironsieve.decide;

import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Tape;
import ironsieve.model.Verdict;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * What a rulebase would do with each line of recorded traffic, and what another would do otherwise.
 */
public final class RecordedDecisions {

  private static final Decision IMPOSSIBLE = new Decision(List.of(), Set.of());

  private final List<Tape.Line> lines;
  private final List<Decision> decisions;

  private RecordedDecisions(List<Tape.Line> lines, List<Decision> decisions) {
    this.lines = lines;
    this.decisions = decisions;
  }

  /**
   * What would be done with a line.
   *
   * @param rules the ids of the rules that may catch it; nothing stands for the default verdict;
   *     none where there can be no such connection
   * @param verdicts the verdicts it may get; one where that is certain
   */
  public record Decision(List<Optional<String>> rules, Set<Verdict> verdicts) {

    public Decision {
      rules = List.copyOf(rules);
      verdicts = Set.copyOf(verdicts);
    }

    /** The verdict, where that is certain. */
    public Optional<Verdict> verdict() {
      return verdicts.size() == 1 ? Optional.of(verdicts.iterator().next()) : Optional.empty();
    }
  }

  /** A line that gets another verdict. */
  public record Changed(Tape.Line line, Decision before, Decision after) {}

  /** What a rulebase would do with traffic. */
  public static RecordedDecisions of(CompiledRulebase compiled, Traffic traffic) {
    List<Optional<int[]>> points = traffic.points(compiled.space());
    int[] rules =
        compiled.firstMatches(
            points.stream().filter(Optional::isPresent).map(Optional::get).toArray(int[][]::new));
    List<Decision> decisions = new ArrayList<>(points.size());
    // Few decisions differ, and each is one object.
    Map<Decision, Decision> known = new HashMap<>();
    PartlyKnown partly = new PartlyKnown(compiled);
    int next = 0;
    for (int i = 0; i < points.size(); i++) {
      if (points.get(i).isEmpty()) {
        decisions.add(IMPOSSIBLE);
        continue;
      }
      int[] point = points.get(i).get();
      int rule = rules[next++];
      Set<Tape.Unsaid> unsaid = traffic.lines().get(i).unsaid();
      Decision decision =
          unsaid.isEmpty()
              ? new Decision(List.of(id(compiled, rule)), Set.of(compiled.outcome(point).verdict()))
              : partly(compiled, point, unsaid, partly);
      decisions.add(known.computeIfAbsent(decision, same -> same));
    }
    return new RecordedDecisions(traffic.lines(), decisions);
  }

  private static Decision partly(
      CompiledRulebase compiled, int[] point, Set<Tape.Unsaid> unsaid, PartlyKnown partly) {
    int[] boxes = partly.catches(point, unsaid);
    return new Decision(
        Arrays.stream(partly.rules(boxes)).mapToObj(rule -> id(compiled, rule)).toList(),
        Arrays.stream(boxes)
            .mapToObj(box -> compiled.outcomeOfBox(box).verdict())
            .collect(Collectors.toSet()));
  }

  private static Optional<String> id(CompiledRulebase compiled, int rule) {
    return rule < 0 ? Optional.empty() : Optional.of(compiled.rules().get(rule).rule().id());
  }

  /** The lines, in the order of the decisions. */
  public List<Tape.Line> lines() {
    return lines;
  }

  /** For each line what would be done with it. */
  public List<Decision> decisions() {
    return decisions;
  }

  /**
   * The lines of which the verdict is another by other decisions about the same traffic.
   *
   * @throws IllegalArgumentException if that is other traffic
   */
  public List<Changed> changedBy(RecordedDecisions after) {
    if (after.lines.size() != lines.size()) {
      throw new IllegalArgumentException("these are decisions about other traffic");
    }
    List<Changed> changed = new ArrayList<>();
    for (int i = 0; i < lines.size(); i++) {
      if (!decisions.get(i).verdicts().equals(after.decisions.get(i).verdicts())) {
        changed.add(new Changed(lines.get(i), decisions.get(i), after.decisions.get(i)));
      }
    }
    return changed;
  }
}
