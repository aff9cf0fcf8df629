package ironsieve.server.edit;

import ironsieve.impact.Comparison;
import ironsieve.model.Rule;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.time.Duration;
import java.util.List;

/**
 * Makes a few edits that nobody keeps after a start: code is several times as slow until it has run
 * for a while, and the first person to edit should not be the one it runs for.
 */
@ApplicationScoped
public class WarmUp {

  private static final int MOST_EDITS = 40;
  private static final long LONGEST = Duration.ofSeconds(4).toNanos();
  private static final int IMPACT_BUDGET = 10_000;

  @Inject Editor editor;

  /** Moves the middle rule down and looks at what that does, until there has been enough of it. */
  public void of(String rulebase) {
    RulebaseSnapshot snapshot = editor.snapshot(rulebase);
    List<Rule> rules = snapshot.compiled().rulebase().rules();
    if (rules.size() < 2) {
      return;
    }
    String moved = rules.get(rules.size() / 2 - 1).id();
    RulebaseStep step =
        new RulebaseStep.MoveRule(
            moved, RulebaseStep.Place.below(rules.get(rules.size() / 2).id()));
    long begun = System.nanoTime();
    for (int i = 0; i < MOST_EDITS && System.nanoTime() - begun < LONGEST; i++) {
      RulebaseSnapshot next = editor.tryOut(snapshot, List.of(step));
      next.edit().ifPresent(edit -> Comparison.of(edit, IMPACT_BUDGET));
      next.review();
    }
  }
}
