package ironsieve.impact;

import ironsieve.compile.BoxPropagation;
import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.compile.ProblemException;
import ironsieve.compile.Space;
import ironsieve.model.Connection;
import ironsieve.model.Environment;
import ironsieve.model.Outcome;
import ironsieve.model.Rulebase;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import ironsieve.progress.Progress;
import ironsieve.region.Box;
import ironsieve.region.Region;
import ironsieve.text.ProbeText;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;

/**
 * Compares two rulebases over shared atoms. The claims of the touched rules are dropped through the
 * rules before and after, piece by piece; pieces whose verdict differs are merged and put into
 * words. Unchanged rules are met only where a touched claim meets them.
 */
public final class Comparison {

  private record Change(Outcome before, Outcome after) {}

  private static final class Differing {
    private final List<Box> boxes = new ArrayList<>();
    private final List<Decider> rulesBefore = new ArrayList<>();
    private final List<Decider> rulesAfter = new ArrayList<>();
  }

  /**
   * What decides a piece: a rule, or nothing for the default verdict; by its place from the top.
   */
  private record Decider(int place, Optional<String> id) implements Comparable<Decider> {

    private static Decider of(CompiledRulebase rulebase, int box) {
      return box < 0
          ? new Decider(Integer.MAX_VALUE, Optional.empty())
          : new Decider(
              rulebase.ruleOfBox(box),
              Optional.of(rulebase.rules().get(rulebase.ruleOfBox(box)).rule().id()));
    }

    @Override
    public int compareTo(Decider other) {
      return Integer.compare(place, other.place);
    }
  }

  private final CompiledRulebase before;
  private final CompiledRulebase after;
  private final CompiledEdit edit;
  private final Space space;
  private final Map<Change, Differing> differing = new LinkedHashMap<>();
  private final Set<String> met = new HashSet<>();
  private final Predicate<String> isLastResort;
  private int stepsLeft;

  private Comparison(CompiledEdit edit, int budget, Predicate<String> isLastResort) {
    this.isLastResort = isLastResort;
    this.before = edit.before();
    this.after = edit.after();
    this.edit = edit;
    this.space = before.space();
    this.stepsLeft = budget;
  }

  /**
   * The impact of going from one rulebase to another, from today on.
   *
   * @param budget how many meetings of a piece and a rule to spend
   * @throws ProblemException if one of them cannot be read
   */
  public static Impact between(
      Rulebase before, Rulebase after, Environment environment, int budget) {
    return between(before, after, environment, budget, word -> false);
  }

  private static Impact between(
      Rulebase before,
      Rulebase after,
      Environment environment,
      int budget,
      Predicate<String> isLastResort) {
    CompiledRulebase compiled = CompiledRulebase.asFarAsKnown(before, environment);
    return of(CompiledEdit.asFarAsKnown(compiled, after, new Progress()), budget, isLastResort);
  }

  /**
   * The impact of an edit, from today on.
   *
   * @param budget how many meetings of a piece and a rule to spend
   */
  public static Impact of(CompiledEdit edit, int budget) {
    return of(edit, budget, word -> false);
  }

  private static Impact of(CompiledEdit edit, int budget, Predicate<String> isLastResort) {
    Comparison comparison = new Comparison(edit, budget, isLastResort);
    boolean complete = comparison.compare();
    return new Impact(
        comparison.kinds(),
        complete ? Impact.Extent.COMPLETE : Impact.Extent.PARTIAL,
        comparison.space);
  }

  /**
   * The impact of other surroundings on a rulebase, from today on: other zones, people, devices,
   * lists, applications. An application that one of two editions does not know counts there as the
   * carrier it rides on; carriers and encryption are the newer edition's on both sides, and where
   * an application's own have changed, the impact is said to be partial. Witnesses are connections
   * as they are before: of somebody who is new the gateway knows nothing yet.
   *
   * @param budget how many meetings of a piece and a rule to spend
   * @throws ProblemException if the rulebase has worse in it than names that stand for nothing
   */
  public static Impact ofSurroundings(
      Rulebase rulebase, Environment before, Environment after, int budget) {
    return ofSurroundings(rulebase, rulebase, new SurroundingsChange(before, after), budget);
  }

  /**
   * The impact of other surroundings together with what a rulebase says in them, such as the new
   * name of a zone.
   *
   * @param old the rulebase until then
   * @param next the rulebase from then on
   * @param budget how many meetings of a piece and a rule to spend
   */
  public static Impact ofSurroundings(
      Rulebase old, Rulebase next, SurroundingsChange change, int budget) {
    BothSurroundings both = new BothSurroundings(List.of(old, next), change);
    Rulebase was = both.asBefore(old);
    Rulebase becomes = both.asAfter(next);
    Impact impact = between(was, becomes, both.together(), budget, both::isOfOneMoment);
    List<Impact.Kind> kinds =
        impact.kinds().stream().map(kind -> kind.with(both.asBefore(kind.witness()))).toList();
    return new Impact(
        kinds, change.isRewired() ? Impact.Extent.PARTIAL : impact.extent(), impact.space());
  }

  private boolean compare() {
    List<Box> open = new ArrayList<>();
    if (before.rulebase().defaultVerdict() != after.rulebase().defaultVerdict()) {
      open.addAll(space.ahead());
    }
    edit.touchedBefore().forEach(rule -> open.addAll(before.rules().get(rule).boxes()));
    edit.touchedAfter().forEach(rule -> open.addAll(after.rules().get(rule).boxes()));
    List<Box> ahead =
        open.stream()
            .flatMap(box -> space.ahead().stream().map(box::intersect))
            .filter(box -> !box.isEmpty())
            .toList();
    for (Box box : Region.of(ahead).boxes()) {
      if (!BoxPropagation.through(before, box, this::dropAfter)) {
        return false;
      }
    }
    return true;
  }

  private boolean dropAfter(Box piece, int boxBefore) {
    return BoxPropagation.through(
        after,
        piece,
        (part, boxAfter) -> {
          if (--stepsLeft < 0) {
            return false;
          }
          Decider decidedBefore = Decider.of(before, boxBefore);
          Decider decidedAfter = Decider.of(after, boxAfter);
          decidedBefore.id().ifPresent(met::add);
          decidedAfter.id().ifPresent(met::add);
          Change change = new Change(before.outcomeOfBox(boxBefore), after.outcomeOfBox(boxAfter));
          if (!change.before().equals(change.after())) {
            Differing found = differing.computeIfAbsent(change, c -> new Differing());
            found.boxes.add(part);
            found.rulesBefore.add(decidedBefore);
            found.rulesAfter.add(decidedAfter);
          }
          return true;
        });
  }

  private List<Impact.Kind> kinds() {
    // Words of rules that have nothing to do with the edit would be exact, but no help.
    met.addAll(edit.touched());
    Vocabulary vocabulary = new Vocabulary(space, List.of(before, after), met, isLastResort);
    // What reads alike is one kind: the two IP versions of the same thing, as a rule.
    Map<List<Object>, Worded> alike = new LinkedHashMap<>();
    differing.forEach(
        (change, found) -> {
          for (Box box : Merging.merged(found.boxes)) {
            Worded worded = worded(change, found, box, vocabulary);
            alike.merge(
                List.of(worded.kind().words(), worded.kind().before(), worded.kind().after()),
                worded,
                Comparison::together);
          }
        });
    List<Impact.Kind> kinds = new ArrayList<>();
    alike.values().forEach(worded -> kinds.add(ofVersions(worded)));
    kinds.sort(Comparator.comparing(this::urgency).thenComparing(kind -> -weight(kind)));
    return kinds;
  }

  /** A kind, and all that its words stand for if no IP version is said. */
  private record Worded(Impact.Kind kind, Box said) {}

  private static Worded together(Worded one, Worded other) {
    List<Box> boxes = new ArrayList<>(one.kind().boxes());
    boxes.addAll(other.kind().boxes());
    return new Worded(
        new Impact.Kind(
            boxes,
            one.kind().words(),
            one.kind().before(),
            one.kind().after(),
            one.kind().witness(),
            one.kind().wording()),
        one.said());
  }

  /** Where the words would stand for connections of another IP version too, the version is said. */
  private Impact.Kind ofVersions(Worded worded) {
    Impact.Kind kind = worded.kind();
    if (kind.wording() == Impact.Wording.EXAMPLE) {
      return kind;
    }
    boolean ambiguous = false;
    for (Box ahead : space.ahead()) {
      Box said = worded.said().intersect(ahead);
      Region own = Region.of(kind.boxes().stream().filter(ahead::containsAll).toList());
      ambiguous |= !said.isEmpty() && own.isEmpty();
    }
    if (!ambiguous) {
      return kind;
    }
    List<Impact.Words> words = new ArrayList<>(kind.words());
    words.add(new Impact.Words("over", space.versionOf(kind.boxes().get(0)).word()));
    return new Impact.Kind(
        kind.boxes(), words, kind.before(), kind.after(), kind.witness(), kind.wording());
  }

  private double weight(Impact.Kind kind) {
    return kind.boxes().stream().mapToDouble(box -> box.weight(space.weights())).sum();
  }

  /**
   * Newly let through to or from outside first, then anything newly let through, then the rest; a
   * page to read before going on counts as let through, and as less than an allow.
   */
  private int urgency(Impact.Kind kind) {
    if (!kind.after().outcome().verdict().passes()
        || kind.before().outcome().verdict() == Verdict.ALLOW) {
      return 2;
    }
    Connection witness = kind.witness();
    return outside(witness.from().place().zone()) || outside(witness.to().zone()) ? 0 : 1;
  }

  private boolean outside(String zone) {
    return space.environment().zones().stream()
        .anyMatch(z -> z.name().equals(zone) && z.side() == Zone.Side.OUTSIDE);
  }

  private Worded worded(Change change, Differing found, Box box, Vocabulary vocabulary) {
    Connection witness = space.sample(space.example(box));
    Box ahead = space.ahead().stream().filter(box::intersects).findFirst().orElseThrow();
    Map<ProbeText.Detail, String> details = ProbeText.details(witness);
    List<Impact.Words> words = new ArrayList<>();
    Box said = space.everything();
    boolean exact = true;
    for (Dimension dimension : Dimension.values()) {
      int number = dimension.ordinal();
      Optional<Vocabulary.Side> side =
          vocabulary.say(
              dimension, box.side(number), ahead.side(number), details.get(detail(dimension)));
      if (side.isPresent()) {
        words.add(new Impact.Words(Vocabulary.part(dimension), side.get().text()));
        said = said.with(number, side.get().atoms());
        exact &= side.get().isExact();
      }
    }
    Impact.Kind kind =
        new Impact.Kind(
            List.of(box),
            words,
            new Impact.Decision(change.before(), deciders(found, found.rulesBefore, box)),
            new Impact.Decision(change.after(), deciders(found, found.rulesAfter, box)),
            witness,
            exact ? Impact.Wording.EXACT : Impact.Wording.EXAMPLE);
    return new Worded(kind, said);
  }

  /** The rules that decide some of a merged box, in their order. */
  private static List<Optional<String>> deciders(
      Differing found, List<Decider> deciders, Box merged) {
    TreeSet<Decider> inside = new TreeSet<>();
    for (int i = 0; i < deciders.size(); i++) {
      if (merged.containsAll(found.boxes.get(i))) {
        inside.add(deciders.get(i));
      }
    }
    return inside.stream().map(Decider::id).toList();
  }

  private static ProbeText.Detail detail(Dimension dimension) {
    return switch (dimension) {
      case FROM -> ProbeText.Detail.FROM_ADDRESS;
      case PERSON -> ProbeText.Detail.PERSON;
      case DEVICE -> ProbeText.Detail.DEVICE;
      case TO -> ProbeText.Detail.TO_ADDRESS;
      case SITE -> ProbeText.Detail.SITE;
      case SERVICE -> ProbeText.Detail.SERVICE;
      case USING -> ProbeText.Detail.APPLICATION;
      case TIME -> ProbeText.Detail.TIME;
    };
  }
}
