package ironsieve.review;

import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Which edits would end a finding. */
public final class Remedies {

  private final Review review;
  private final Map<String, Integer> places = new HashMap<>();
  private final Map<String, Rule> rules = new HashMap<>();

  /** Remedies for the findings of a review of this rulebase. */
  public Remedies(Rulebase rulebase, Review review) {
    this.review = review;
    for (Rule rule : rulebase.rules()) {
      places.put(rule.id(), places.size());
      rules.put(rule.id(), rule);
    }
  }

  /** The sensible edits, the most likely first; none for what is normal or undetermined. */
  public List<Remedy> of(Finding finding) {
    return switch (finding.kind()) {
      case SHADOWED -> {
        List<Remedy> remedies = new ArrayList<>();
        moveAbove(finding).ifPresent(remedies::add);
        remedies.add(remove(finding));
        yield remedies;
      }
      case PARTLY_SHADOWED ->
          finding.severity() == Finding.Severity.QUIET
              ? List.of()
              : moveAbove(finding).map(List::of).orElse(List.of());
      case REDUNDANT -> List.of(remove(finding));
      case EMPTY ->
          List.of(
              new Remedy(Remedy.Action.SWITCH_OFF, finding.rule(), "", "Switch it off"),
              remove(finding));
      case EXCEPTION, UNDETERMINED -> List.of();
    };
  }

  /**
   * Above the topmost rule that takes from it and decides otherwise, only rules that decide the
   * same take from it, so there it can be neither shadowed nor partly shadowed. Where takers are
   * only estimated, one may have been missed; then the next review will say so.
   */
  private Optional<Remedy> moveAbove(Finding finding) {
    return review.residues().get(finding.rule()).takers().stream()
        .filter(taker -> taker.otherwise().isPresent())
        .map(Residue.Taker::rule)
        .min(java.util.Comparator.comparing(places::get))
        .map(
            target ->
                new Remedy(
                    Remedy.Action.MOVE_ABOVE,
                    finding.rule(),
                    target,
                    "Move it above rule " + (places.get(target) + 1)));
  }

  private static Remedy remove(Finding finding) {
    return new Remedy(Remedy.Action.REMOVE, finding.rule(), "", "Take it out");
  }
}
