package ironsieve.server.api;

import ironsieve.decide.Fall;
import ironsieve.decide.PromiseCheck;
import ironsieve.decide.Reason;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.text.OutcomeText;
import ironsieve.text.ProbeText;
import java.util.ArrayList;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/**
 * What the API shows of a connection that falls through the rules, and of the promises about some.
 */
public final class FallViews {

  /** More rules that come too late are only counted. */
  private static final int MOST_BELOW = 20;

  private FallViews() {}

  /**
   * A promise and what became of it; {@code now} is empty if there can be no such connection, for
   * {@code trouble}.
   */
  @Schema(
      requiredProperties = {
        "id",
        "group",
        "name",
        "probe",
        "verdict",
        "catcher",
        "kept",
        "now",
        "caughtBy",
        "trouble"
      })
  public record PromiseView(
      String id,
      String group,
      String name,
      String probe,
      String verdict,
      String catcher,
      boolean kept,
      String now,
      String caughtBy,
      String trouble) {}

  /**
   * A probe dropped into one revision: which rules it passes and what it falls on ({@code caughtBy}
   * is empty for the default verdict), which rules {@code below} match too ({@code belowMore} of
   * them are left out), and how it unfolds at the gateway.
   */
  @Schema(
      requiredProperties = {
        "revision",
        "text",
        "parts",
        "passed",
        "caughtBy",
        "outcome",
        "verdict",
        "matches",
        "below",
        "belowMore",
        "stages"
      })
  public record FallView(
      long revision,
      String text,
      List<PartView> parts,
      List<PassView> passed,
      String caughtBy,
      String outcome,
      String verdict,
      List<ReasonView> matches,
      List<BelowView> below,
      int belowMore,
      List<StageView> stages) {}

  /** A rule below the catch that matches too, and what it would have done. */
  @Schema(requiredProperties = {"rule", "outcome", "verdict"})
  public record BelowView(String rule, String outcome, String verdict) {}

  /** One detail of a probe. */
  @Schema(requiredProperties = {"detail", "value", "filledIn"})
  public record PartView(String detail, String value, boolean filledIn) {}

  /**
   * What is known at one stage and what follows; {@code rule} is the first that surely claims the
   * connection, empty for the default verdict.
   */
  @Schema(requiredProperties = {"knowledge", "status", "waiting", "rule", "outcomes"})
  public record StageView(
      String knowledge,
      String status,
      List<WaitView> waiting,
      String rule,
      List<String> outcomes) {}

  /** A rule that cannot say yet, and what it waits for. */
  @Schema(requiredProperties = {"rule", "fields"})
  public record WaitView(String rule, List<String> fields) {}

  /** A rule passed. */
  @Schema(requiredProperties = {"rule", "misses"})
  public record PassView(String rule, List<ReasonView> misses) {}

  /** Why a field matched or did not. */
  @Schema(requiredProperties = {"field", "label", "had", "wanted"})
  public record ReasonView(String field, String label, String had, String wanted) {}

  static List<PromiseView> promises(RulebaseSnapshot snapshot) {
    return snapshot.promises().stream()
        .map(check -> promise(snapshot.contents().promises().get(check.promise().id()), check))
        .toList();
  }

  private static PromiseView promise(PromiseDoc doc, PromiseCheck check) {
    return new PromiseView(
        doc.id(),
        doc.group(),
        doc.name(),
        doc.probe(),
        doc.verdict(),
        doc.catcher() == null ? "" : doc.catcher(),
        check.isKept(),
        check.verdict().map(verdict -> verdict.word()).orElse(""),
        check.catcher().orElse(""),
        check.trouble());
  }

  static FallView fall(RulebaseSnapshot snapshot, ProbeText.Probe probe, Fall fall) {
    return new FallView(
        snapshot.revision(),
        ProbeText.print(fall.connection()),
        parts(probe),
        fall.passed().stream()
            .map(pass -> new PassView(pass.rule(), reasons(pass.misses())))
            .toList(),
        fall.caught().rule().orElse(""),
        OutcomeText.print(fall.caught().outcome()),
        fall.caught().outcome().verdict().word(),
        reasons(fall.caught().matches()),
        fall.below().stream().limit(MOST_BELOW).map(FallViews::below).toList(),
        Math.max(0, fall.below().size() - MOST_BELOW),
        fall.stages().stream().map(FallViews::stage).toList());
  }

  private static BelowView below(Fall.Below below) {
    return new BelowView(
        below.rule(), OutcomeText.print(below.outcome()), below.outcome().verdict().word());
  }

  private static List<PartView> parts(ProbeText.Probe probe) {
    List<PartView> parts = new ArrayList<>();
    ProbeText.details(probe.connection())
        .forEach(
            (detail, value) ->
                parts.add(
                    new PartView(Views.word(detail), value, probe.filledIn().contains(detail))));
    return parts;
  }

  private static StageView stage(Fall.Stage stage) {
    return new StageView(
        stage.knowledge().word(),
        Views.word(stage.status()),
        stage.waiting().stream()
            .map(
                wait ->
                    new WaitView(
                        wait.rule(),
                        wait.fields().stream().map(ironsieve.model.FieldName::label).toList()))
            .toList(),
        stage.rule().orElse(""),
        stage.outcomes().stream().map(OutcomeText::print).toList());
  }

  private static List<ReasonView> reasons(List<Reason> reasons) {
    return reasons.stream()
        .map(r -> new ReasonView(r.field().key(), r.field().label(), r.had(), r.wanted()))
        .toList();
  }
}
