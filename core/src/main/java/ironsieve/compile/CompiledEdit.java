package ironsieve.compile;

import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.progress.Progress;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;

/**
 * A compiled rulebase and what an edit made of it, over one space. Where no usage sheet and no
 * decryption rule has changed, only the rules that say something else are read; the others keep
 * their claims, and the space is cut only where a value is new to it.
 */
public final class CompiledEdit {

  private final CompiledRulebase before;
  private final CompiledRulebase after;
  private final Order order;
  private final IndexSet reworded;
  private final Optional<Refinement> refinement;

  private CompiledEdit(
      CompiledRulebase before,
      CompiledRulebase after,
      Order order,
      IndexSet reworded,
      Optional<Refinement> refinement) {
    this.before = before;
    this.after = after;
    this.order = order;
    this.reworded = reworded;
    this.refinement = refinement;
  }

  /**
   * Whether {@link #before()} has the boxes of the rulebase that was edited, if over finer atoms;
   * otherwise it was read anew.
   */
  public boolean keepsBoxes() {
    return refinement.isPresent();
  }

  /** Whether both have the atoms of the rulebase that was edited. */
  public boolean keepsAtoms() {
    return refinement.isPresent() && refinement.get().isNone();
  }

  /**
   * For a box of the space of the rulebase that was edited the same over the atoms of {@link
   * #after()}. Holds neither rulebase.
   *
   * @throws java.util.NoSuchElementException if it was read anew; see {@link #keepsBoxes()}
   */
  public UnaryOperator<Box> carrying() {
    return refinement.orElseThrow()::of;
  }

  /** What the rulebase was; over the space of {@link #after()}. */
  public CompiledRulebase before() {
    return before;
  }

  /** What it is. */
  public CompiledRulebase after() {
    return after;
  }

  /**
   * The ids of the rules that were added, taken out, claim something else or were moved past rules
   * that stayed; no connection outside their claims before and after can change its catch.
   */
  public Set<String> touched() {
    return order.touched();
  }

  /** The numbers of those of them that took part before. */
  public IndexSet touchedBefore() {
    return order.touchedBefore();
  }

  /** The numbers of those of them that take part after. */
  public IndexSet touchedAfter() {
    return order.touchedAfter();
  }

  /**
   * The numbers after of rules that say something else, if only in their notes, and claim the same.
   */
  public IndexSet reworded() {
    return reworded;
  }

  /** For a rule after, the number before of the rule that claims the same; −1 if there is none. */
  public int origin(int rule) {
    return order.origin(rule);
  }

  /**
   * Compiles what an edit made of a rulebase.
   *
   * @throws ProblemException if the new rulebase cannot be read; names that stood for nothing
   *     before may stay
   */
  public static CompiledEdit of(CompiledRulebase before, Rulebase next) {
    return of(before, next, new Progress());
  }

  /**
   * What an edit changes, by somebody who may lose patience.
   *
   * @param progress told of every rule that is read
   * @throws java.util.concurrent.CancellationException soon after it is stopped
   */
  public static CompiledEdit of(CompiledRulebase before, Rulebase next, Progress progress) {
    return of(before, next, progress, false);
  }

  /**
   * What going back to what a rulebase once said changes: names that stood for something then may
   * stand for nothing now, and match nothing.
   *
   * @throws ProblemException if anything else in the new rulebase cannot be read
   * @throws java.util.concurrent.CancellationException soon after {@code progress} is stopped
   */
  public static CompiledEdit asFarAsKnown(
      CompiledRulebase before, Rulebase next, Progress progress) {
    return of(before, next, progress, true);
  }

  private static CompiledEdit of(
      CompiledRulebase before, Rulebase next, Progress progress, boolean unknownNames) {
    Names names = new Names(next.parts(), before.space().environment());
    Parts old = before.rulebase().parts();
    Set<SetKey> changedSets = changed(old.sets(), next.parts().sets());
    List<Rule> fresh = new ArrayList<>();
    List<Rule> rules = next.rules();
    List<Rule> on = new ArrayList<>(rules.size());
    rules.forEach(rule -> (rule.isOn() ? on : fresh).add(rule));
    int[] origins = before.numbersOf(on);
    BitSet reworded = new BitSet();
    for (int i = 0; i < origins.length; i++) {
      Rule rule = on.get(i);
      Rule was = origins[i] < 0 ? null : before.rules().get(origins[i]).rule();
      if (was == null || !saysTheSame(rule, was) || uses(rule.match(), changedSets)) {
        origins[i] = -1;
        fresh.add(rule);
      } else if (rule != was && !rule.equals(was)) {
        reworded.set(i);
      }
    }
    boolean sharedAlike =
        old.decryption().equals(next.parts().decryption())
            && old.sheets().equals(next.parts().sheets())
            && next.parts().decryption().stream()
                .noneMatch(line -> uses(line.match(), changedSets));
    progress.begin("checking names", 0);
    List<Problem> problems =
        sharedAlike && old.equals(next.parts())
            ? Check.problems(fresh, names)
            : Check.problems(next, names);
    Check.demand(problems.isEmpty() ? problems : refused(problems, before, unknownNames));
    progress.begin("telling values apart", 0);
    Optional<Space.Refined> refined =
        sharedAlike ? before.space().telling(fresh, names) : Optional.empty();
    if (refined.isEmpty()) {
      return afresh(before.rulebase(), next, names, progress);
    }
    Refinement refinement = refined.get().refinement();
    CompiledRulebase carried =
        refinement.isNone() ? before : before.over(refined.get().space(), refinement);
    CompiledRulebase after = carried.followedBy(next, names, on, origins, progress);
    return new CompiledEdit(
        carried,
        after,
        new Order(carried, after, origins),
        Signatures.set(reworded),
        Optional.of(refinement));
  }

  /** A name that stood for nothing before is no reason to refuse an edit; a new one is. */
  private static List<Problem> refused(
      List<Problem> problems, CompiledRulebase before, boolean unknownNames) {
    Set<String> known = new HashSet<>();
    if (!unknownNames) {
      Check.problems(before.rulebase(), before.names())
          .forEach(problem -> known.add(problem.message()));
    }
    return problems.stream()
        .filter(
            problem ->
                problem.kind() == Problem.Kind.BROKEN
                    || !unknownNames && !known.contains(problem.message()))
        .toList();
  }

  private static CompiledEdit afresh(
      Rulebase before, Rulebase next, Names names, Progress progress) {
    Names old = new Names(before.parts(), names.environment());
    Space space =
        new Space(
            List.of(new Space.Scope(before, old), new Space.Scope(next, names)),
            names.environment());
    CompiledRulebase one = CompiledRulebase.over(space, before, old, progress);
    CompiledRulebase other = CompiledRulebase.over(space, next, names, progress);
    Order order = Order.between(one, other);
    BitSet reworded = new BitSet();
    for (int rule = 0; rule < other.rules().size(); rule++) {
      int was = order.origin(rule);
      Rule now = other.rules().get(rule).rule();
      reworded.set(rule, was >= 0 && !now.equals(one.rules().get(was).rule()));
    }
    return new CompiledEdit(one, other, order, Signatures.set(reworded), Optional.empty());
  }

  private static boolean saysTheSame(Rule rule, Rule before) {
    return rule == before
        || rule.isOn()
            && rule.match().equals(before.match())
            && rule.then().outcome().equals(before.then().outcome())
            && rule.then().sheet().equals(before.then().sheet());
  }

  private record SetKey(ValueKind kind, String name) {}

  /** The sets that stand for something else, directly or by what they hold. */
  private static Set<SetKey> changed(List<NamedSet> before, List<NamedSet> after) {
    Map<SetKey, List<Value>> old = new HashMap<>();
    Map<SetKey, List<Value>> next = new HashMap<>();
    before.forEach(set -> old.put(key(set), set.values()));
    after.forEach(set -> next.put(key(set), set.values()));
    Set<SetKey> changed = new HashSet<>(old.keySet());
    changed.addAll(next.keySet());
    changed.removeIf(key -> next.containsKey(key) && next.get(key).equals(old.get(key)));
    boolean grew = !changed.isEmpty();
    while (grew) {
      grew = false;
      for (NamedSet set : after) {
        grew |= holds(set.kind(), set.values(), changed) && changed.add(key(set));
      }
    }
    return changed;
  }

  private static SetKey key(NamedSet set) {
    return new SetKey(set.kind(), set.name());
  }

  private static boolean holds(ValueKind kind, List<Value> values, Set<SetKey> sets) {
    return values.stream()
        .anyMatch(
            value ->
                value instanceof Value.SetName name
                    && sets.contains(new SetKey(kind, name.name())));
  }

  private static boolean uses(Rule.Match match, Set<SetKey> sets) {
    if (sets.isEmpty()) {
      return false;
    }
    for (FieldName name : match.fields().keySet()) {
      if (holds(name.kind(), match.fields().get(name).values(), sets)) {
        return true;
      }
    }
    return false;
  }
}
