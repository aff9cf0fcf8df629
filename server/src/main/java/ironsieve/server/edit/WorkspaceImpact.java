package ironsieve.server.edit;

import ironsieve.files.Renaming;
import ironsieve.impact.Comparison;
import ironsieve.impact.Impact;
import ironsieve.model.Environment;
import ironsieve.progress.Progress;
import ironsieve.review.Aftermath;
import ironsieve.text.ProbeText;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.ArrayList;
import java.util.List;

/** What a change of the workspace does to every rulebase, worked out before it is made. */
@ApplicationScoped
public class WorkspaceImpact {

  /** Meetings of a piece and a rule, for each rulebase. */
  private static final int BUDGET = 100_000;

  @Inject Editor editor;

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
   * What other surroundings do to every rulebase that is in use, those first whose verdicts change.
   *
   * @param renamed what rulebases call otherwise there
   * @param progress told of every rulebase
   * @throws java.util.concurrent.CancellationException soon after it is stopped
   */
  public List<OnRulebase> of(Environment after, List<Renaming.Renamed> renamed, Progress progress) {
    List<String> ids = editor.rulebases();
    progress.begin("working out what changes in rulebases", ids.size());
    List<OnRulebase> all = new ArrayList<>();
    for (String id : ids) {
      progress.check();
      all.add(on(editor.snapshot(id), after, renamed));
      progress.oneMore();
    }
    all.sort(
        (one, other) ->
            Boolean.compare(other.impact().kinds().size() > 0, one.impact().kinds().size() > 0));
    return all;
  }

  private OnRulebase on(
      RulebaseSnapshot before, Environment surroundings, List<Renaming.Renamed> renamed) {
    RulebaseSnapshot after =
        renamed.isEmpty()
            ? editor.under(before, surroundings)
            : editor.under(
                before, new Renaming(renamed, new ProbeText(before.environment())), surroundings);
    Impact impact =
        Comparison.ofSurroundings(
            before.compiled().rulebase(),
            before.environment(),
            after.compiled().rulebase(),
            surroundings,
            BUDGET);
    return new OnRulebase(before, after, impact, Aftermath.of(before.review(), after.review()));
  }
}
