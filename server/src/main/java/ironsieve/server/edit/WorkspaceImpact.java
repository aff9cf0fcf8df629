package ironsieve.server.edit;

import ironsieve.files.NamedPlaces;
import ironsieve.files.Renaming;
import ironsieve.files.WorkspaceKind;
import ironsieve.impact.Comparison;
import ironsieve.impact.Impact;
import ironsieve.impact.SurroundingsChange;
import ironsieve.model.Environment;
import ironsieve.model.Value;
import ironsieve.progress.Progress;
import ironsieve.review.Aftermath;
import ironsieve.server.change.Change;
import ironsieve.text.ProbeText;
import ironsieve.text.ValueText;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.Comparator;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;

/** What a change of the workspace does to every rulebase, worked out before it is made. */
@ApplicationScoped
public class WorkspaceImpact {

  /** Meetings of a piece and a rule, for each rulebase. */
  private static final int BUDGET = 100_000;

  @Inject Editor editor;
  @Inject WorkspacePlans workspace;

  /**
   * What it does to one.
   *
   * @param impact the connections decided otherwise
   * @param aftermath findings that end and begin
   */
  public record OnRulebase(
      RulebaseSnapshot before, RulebaseSnapshot after, Impact impact, Aftermath aftermath) {

    /** Whether anything at all is different. */
    public boolean isAny() {
      return !impact.kinds().isEmpty()
          || impact.extent() == Impact.Extent.PARTIAL
          || !aftermath.begun().isEmpty()
          || !aftermath.ended().isEmpty();
    }
  }

  /**
   * How many rulebases were looked at, and what is said of those that would notice, those first
   * whose verdicts change.
   */
  public record OnAll<T>(int checked, List<T> noticing) {}

  /** What is said of one rulebase, and whether its verdicts change. */
  private record Said<T>(T what, boolean decidesOtherwise) {}

  /**
   * What a planned change does to every rulebase that is in use. Each is told by itself and let go
   * then, for all of them compiled twice would not fit into memory.
   *
   * @param told what is to be said of a rulebase that would notice
   * @param progress told of every rulebase
   * @throws java.util.concurrent.CancellationException soon after it is stopped
   */
  public <T> OnAll<T> of(
      WorkspacePlans.Planned planned, Function<OnRulebase, T> told, Progress progress) {
    Environment after = workspace.environment(planned);
    List<String> ids = editor.rulebases();
    progress.begin("working out what changes in rulebases", ids.size());
    Map<Environment, SurroundingsChange> changes = new IdentityHashMap<>();
    Set<String> lists = listsAlone(planned);
    List<Said<T>> said =
        ids.parallelStream()
            .filter(id -> lists.isEmpty() || isNamedIn(id, lists, progress))
            .map(id -> on(id, after, planned.renamed(), changes, told, progress))
            .flatMap(Optional::stream)
            .sorted(Comparator.comparing((Said<T> one) -> !one.decidesOtherwise()))
            .toList();
    return new OnAll<>(ids.size(), said.stream().map(Said::what).toList());
  }

  /**
   * The values that name address lists, where nothing else is to be changed and no shared set names
   * one; what names none of them decides as before, and nothing is worked out for it.
   */
  private static Set<String> listsAlone(WorkspacePlans.Planned planned) {
    Set<String> lists = new HashSet<>();
    for (Change change : planned.changes()) {
      if (!change.kind().equals(WorkspaceKind.ADDRESS_LIST.word())) {
        return Set.of();
      }
      lists.add(ValueText.print(new Value.ListName(change.id())));
    }
    boolean isInShared =
        Stream.of(planned.before().contents(), planned.after())
            .flatMap(contents -> contents.sets().stream())
            .anyMatch(set -> set.values().stream().anyMatch(lists::contains));
    return isInShared || !planned.renamed().isEmpty() ? Set.of() : lists;
  }

  private boolean isNamedIn(String id, Set<String> values, Progress progress) {
    progress.check();
    boolean[] isNamed = new boolean[1];
    NamedPlaces.each(
        editor.snapshot(id).contents(), place -> isNamed[0] |= values.contains(place.text()));
    if (!isNamed[0]) {
      progress.oneMore();
    }
    return isNamed[0];
  }

  private <T> Optional<Said<T>> on(
      String id,
      Environment after,
      List<Renaming.Renamed> renamed,
      Map<Environment, SurroundingsChange> changes,
      Function<OnRulebase, T> told,
      Progress progress) {
    progress.check();
    RulebaseSnapshot before = editor.snapshot(id);
    SurroundingsChange change;
    synchronized (changes) {
      // All of them are read against the same, as a rule; what is the same on both sides is found
      // out once.
      change =
          changes.computeIfAbsent(
              before.environment(), surroundings -> new SurroundingsChange(surroundings, after));
    }
    OnRulebase on = on(before, change, renamed);
    progress.oneMore();
    return on.isAny()
        ? Optional.of(new Said<>(told.apply(on), !on.impact().kinds().isEmpty()))
        : Optional.empty();
  }

  private OnRulebase on(
      RulebaseSnapshot before, SurroundingsChange change, List<Renaming.Renamed> renamed) {
    RulebaseSnapshot after =
        renamed.isEmpty()
            ? editor.under(before, change.after())
            : editor.under(
                before, new Renaming(renamed, new ProbeText(before.environment())), change.after());
    Impact impact =
        Comparison.ofSurroundings(
            before.compiled().rulebase(), after.compiled().rulebase(), change, BUDGET);
    return new OnRulebase(before, after, impact, Aftermath.of(before.review(), after.review()));
  }
}
