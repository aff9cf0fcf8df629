package ironsieve.review;

import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Space;
import ironsieve.model.Verdict;
import ironsieve.region.Address;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;

/**
 * The claims of a compiled rulebase as the review sees them: from today on, with who can meet whom.
 */
final class Claims {

  private final CompiledRulebase compiled;
  private final List<List<Box>> boxes;

  Claims(CompiledRulebase compiled) {
    this.compiled = compiled;
    List<Box> ahead = compiled.space().ahead();
    boxes =
        compiled.rules().stream()
            .map(rule -> rule.boxes().stream().flatMap(box -> within(box, ahead)).toList())
            .toList();
  }

  private static java.util.stream.Stream<Box> within(Box box, List<Box> ahead) {
    return ahead.stream().filter(box::intersects).map(box::intersect);
  }

  CompiledRulebase compiled() {
    return compiled;
  }

  Space space() {
    return compiled.space();
  }

  List<CompiledRule> rules() {
    return compiled.rules();
  }

  /** The claim of a rule: disjoint, non-empty boxes. */
  List<Box> of(int rule) {
    return boxes.get(rule);
  }

  String id(int rule) {
    return compiled.rules().get(rule).rule().id();
  }

  /** The verdict of a rule, or of the last line for −1. */
  Verdict verdict(int rule) {
    return rule < 0
        ? compiled.rulebase().lastLine()
        : compiled.rules().get(rule).rule().then().verdict();
  }

  /**
   * For each box of a claim, what makes the weights of the claim add up to 1, one share per IP
   * version.
   */
  double[] scales(List<Box> claim) {
    Map<Address.Version, Double> sums = new EnumMap<>(Address.Version.class);
    claim.forEach(
        box -> sums.merge(space().versionOf(box), box.weight(space().weights()), Double::sum));
    return claim.stream()
        .mapToDouble(box -> 1 / (sums.get(space().versionOf(box)) * sums.size()))
        .toArray();
  }

  /** The boxes of the rules above one that meet a box, from the top. */
  List<CoverSearch.Candidate> above(Box box, int rule) {
    return meeting(box, 0, compiled.firstBox(rule));
  }

  /** The boxes of the rules below one that meet a box, from the top. */
  List<CoverSearch.Candidate> below(Box box, int rule) {
    return meeting(box, compiled.firstBox(rule + 1), compiled.boxes().size());
  }

  private List<CoverSearch.Candidate> meeting(Box box, int from, int to) {
    List<CoverSearch.Candidate> found = new ArrayList<>();
    IndexSet numbers = compiled.index().meeting(box);
    for (int n = numbers.next(from); n >= 0 && n < to; n = numbers.next(n + 1)) {
      found.add(new CoverSearch.Candidate(compiled.ruleOfBox(n), compiled.boxes().get(n)));
    }
    return found;
  }

  /** All boxes of some rules, as candidates. */
  List<CoverSearch.Candidate> candidates(IntStream rules) {
    return rules
        .boxed()
        .flatMap(rule -> of(rule).stream().map(box -> new CoverSearch.Candidate(rule, box)))
        .toList();
  }

  /** The parts that two claims have in common. */
  List<Box> common(int one, int other) {
    List<Box> common = new ArrayList<>();
    for (Box a : of(one)) {
      for (Box b : of(other)) {
        if (a.intersects(b)) {
          common.add(a.intersect(b));
        }
      }
    }
    return common;
  }

  /** Whether the rules above take a point from a rule. */
  int firstMatch(int[] point) {
    return compiled.firstMatch(point);
  }

  /** The first rule below one that claims a point, or −1 for the last line. */
  int firstMatchBelow(int[] point, int rule) {
    int box = compiled.index().first(point, compiled.firstBox(rule + 1));
    return box < 0 ? -1 : compiled.ruleOfBox(box);
  }

  /** A witness at a point, caught by whatever catches it. */
  Witness witness(int[] point) {
    int rule = firstMatch(point);
    return new Witness(space().sample(point), rule < 0 ? Optional.empty() : Optional.of(id(rule)));
  }

  /** A witness somewhere in a non-empty box. */
  Witness witness(Box box) {
    return witness(space().example(box));
  }
}
