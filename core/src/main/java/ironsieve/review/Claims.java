package ironsieve.review;

import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Space;
import ironsieve.model.Outcome;
import ironsieve.model.Verdict;
import ironsieve.progress.Progress;
import ironsieve.region.Address;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.review.CoverSearch.Answer;
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.CoverSearch.Question;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReferenceArray;

/**
 * The claims of a compiled rulebase as the review sees them: from today on, with who can meet whom.
 */
final class Claims {

  private final CompiledRulebase compiled;
  private final Progress progress;
  private final List<Box> ahead;
  private final AtomicReferenceArray<List<Candidate>> parts;
  private final AtomicReferenceArray<List<Box>> boxes;

  Claims(CompiledRulebase compiled, Progress progress) {
    this.compiled = compiled;
    this.progress = progress;
    ahead = compiled.space().ahead();
    parts = new AtomicReferenceArray<>(compiled.rules().size());
    boxes = new AtomicReferenceArray<>(compiled.rules().size());
  }

  private static List<Candidate> within(CompiledRule rule, List<Box> ahead) {
    List<Candidate> found = new ArrayList<>();
    for (int b = 0; b < rule.boxes().size(); b++) {
      Box box = rule.boxes().get(b);
      for (Box part : ahead) {
        if (box.intersects(part)) {
          found.add(new Candidate(rule.index(), box.intersect(part), rule.outcomes().get(b)));
        }
      }
    }
    return found;
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
    List<Box> known = boxes.get(rule);
    if (known == null) {
      known = parts(rule).stream().map(Candidate::box).toList();
      boxes.set(rule, known);
    }
    return known;
  }

  /** The claim of a rule with what happens to each part of it. */
  List<Candidate> parts(int rule) {
    List<Candidate> known = parts.get(rule);
    if (known == null) {
      // Two threads may both work it out; they come to the same.
      known = within(compiled.rules().get(rule), ahead);
      parts.set(rule, known);
    }
    return known;
  }

  /** What a rule would claim from today on if it could see into encrypted content. */
  List<Box> unseen(int rule) {
    return space().ahead(compiled.matchCompiler().unseen(rules().get(rule).rule().match()));
  }

  /** The rule's own outcome at a point of its claim. */
  Outcome own(int[] point, int rule) {
    for (Candidate part : parts(rule)) {
      if (part.box().contains(point)) {
        return part.outcome();
      }
    }
    throw new IllegalArgumentException("the point is not of the claim of " + id(rule));
  }

  String id(int rule) {
    return compiled.rules().get(rule).rule().id();
  }

  /** The verdict of a rule, or of the default verdict for −1. */
  Verdict verdict(int rule) {
    return rule < 0
        ? compiled.rulebase().defaultVerdict()
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
  List<Candidate> above(Box box, int rule) {
    return above(List.of(box), rule);
  }

  /** The boxes of the rules above one that meet any of some boxes, from the top. */
  List<Candidate> above(List<Box> any, int rule) {
    return candidates(meeting(any), 0, compiled.firstBox(rule));
  }

  /** The boxes of the rules below one that meet any of some boxes, from the top. */
  List<Candidate> below(List<Box> any, int rule) {
    return candidates(meeting(any), compiled.firstBox(rule + 1), compiled.boxNumbers());
  }

  private IndexSet meeting(List<Box> any) {
    return any.stream().map(compiled.index()::meeting).reduce(IndexSet.EMPTY, IndexSet::union);
  }

  private List<Candidate> candidates(IndexSet numbers, int from, int to) {
    List<Candidate> found = new ArrayList<>();
    for (int n = numbers.next(from); n >= 0 && n < to; n = numbers.next(n + 1)) {
      found.add(new Candidate(compiled.ruleOfBox(n), compiled.box(n), compiled.outcomeOfBox(n)));
    }
    return found;
  }

  /**
   * Whether the claim of one rule holds all of another's; nothing if that takes more steps than
   * these to find out.
   */
  Optional<Boolean> holds(int outer, int inner, int steps) {
    List<Box> open = new ArrayList<>();
    for (Box box : of(inner)) {
      boolean whole = false;
      int around = 0;
      for (Candidate part : parts(outer)) {
        whole |= part.box().containsAll(box);
        around += part.box().intersects(box) ? 1 : 0;
      }
      if (!whole && around < 2) {
        return Optional.of(false);
      }
      if (!whole) {
        open.add(box);
      }
    }
    if (open.isEmpty()) {
      return Optional.of(true);
    }
    Answer answer = search(List.of(new Question(open, parts(outer))), steps);
    return answer instanceof Answer.OutOfBudget
        ? Optional.empty()
        : Optional.of(answer instanceof Answer.Covered);
  }

  /** Whether the candidates of each question cover all its boxes; see {@link CoverSearch}. */
  Answer search(List<Question> questions, int steps) {
    return CoverSearch.run(questions, space().weights(), steps, progress);
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

  /** The parts that two claims have in common and that the other rule decides otherwise. */
  List<Box> disputed(int one, int other) {
    List<Box> disputed = new ArrayList<>();
    for (Candidate a : parts(one)) {
      for (Candidate b : parts(other)) {
        if (!a.outcome().equals(b.outcome()) && a.box().intersects(b.box())) {
          disputed.add(a.box().intersect(b.box()));
        }
      }
    }
    return disputed;
  }

  /** Whether two claims have something in common that the other rule decides otherwise. */
  boolean isDisputed(int one, int other) {
    for (Candidate a : parts(one)) {
      for (Candidate b : parts(other)) {
        if (!a.outcome().equals(b.outcome()) && a.box().intersects(b.box())) {
          return true;
        }
      }
    }
    return false;
  }

  /** What happens to a point. */
  Outcome outcome(int[] point) {
    return compiled.outcome(point);
  }

  /** The rule that catches a point, or −1. */
  int firstMatch(int[] point) {
    return compiled.firstMatch(point);
  }

  /** The box that would catch a point if a rule and all above it were not there, or −1. */
  int boxBelow(int[] point, int rule) {
    return compiled.index().first(point, compiled.firstBox(rule + 1));
  }

  /** What would happen to a point if a rule and all above it were not there. */
  Outcome outcomeBelow(int[] point, int rule) {
    return compiled.outcomeOfBox(boxBelow(point, rule));
  }

  /** A witness at a point, caught by whatever catches it. */
  Witness witness(int[] point) {
    return witness(point, firstMatch(point));
  }

  /** A witness at a point of which it is known what rule catches it, −1 if none does. */
  Witness witness(int[] point, int rule) {
    return new Witness(space().sample(point), rule < 0 ? Optional.empty() : Optional.of(id(rule)));
  }

  /** A witness somewhere in a non-empty box. */
  Witness witness(Box box) {
    return witness(space().example(box));
  }
}
