package ironsieve.review;

import ironsieve.model.Chapter;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** One edit of a rulebase that a remedy proposes. */
public sealed interface Edit {

  /** Move a rule to the place just above another. */
  record MoveAbove(String rule, String target) implements Edit {}

  /** Move a rule to the end of the last chapter. */
  record MoveToEnd(String rule) implements Edit {}

  /** Take a rule out. */
  record Remove(String rule) implements Edit {}

  /** Put a rule in the place of the one with its id. */
  record Replace(Rule rule) implements Edit {}

  /** Add a rule just above another. */
  record InsertAbove(Rule rule, String target) implements Edit {}

  /** Put what is left in the place of a rule, and the other part of it above another one. */
  record Split(Rule left, Rule part, String target) implements Edit {}

  /** Put what two rules become in the place of one, and take the other out. */
  record Merge(Rule merged, String gone) implements Edit {}

  /** Add a line above all others to what is decrypted. */
  record Decrypt(DecryptionRule line) implements Edit {}

  /** The rulebase with an edit made. */
  static Rulebase apply(Rulebase rulebase, Edit edit) {
    if (edit instanceof Split split) {
      return apply(
          apply(rulebase, new InsertAbove(split.part(), split.target())),
          new Replace(split.left()));
    }
    if (edit instanceof Merge merge) {
      return apply(apply(rulebase, new Replace(merge.merged())), new Remove(merge.gone()));
    }
    if (edit instanceof Decrypt open) {
      Parts parts = rulebase.parts();
      List<DecryptionRule> decryption = new ArrayList<>(parts.decryption());
      decryption.add(0, open.line());
      return new Rulebase(
          rulebase.name(),
          rulebase.chapters(),
          new Parts(
              parts.sets(),
              parts.sheets(),
              parts.notices(),
              parts.lanes(),
              decryption,
              parts.capacity()),
          rulebase.defaultVerdict());
    }
    if (edit instanceof MoveToEnd move) {
      Rule moved = rulebase.rule(move.rule()).orElseThrow();
      Rulebase without = apply(rulebase, new Remove(move.rule()));
      List<Chapter> chapters = new ArrayList<>(without.chapters());
      Chapter last = chapters.remove(chapters.size() - 1);
      List<Rule> rules = new ArrayList<>(last.rules());
      rules.add(moved);
      chapters.add(new Chapter(last.id(), last.title(), last.note(), rules));
      return new Rulebase(without.name(), chapters, without.parts(), without.defaultVerdict());
    }
    Optional<Rule> moving =
        edit instanceof MoveAbove move ? rulebase.rule(move.rule()) : Optional.empty();
    List<Chapter> chapters = new ArrayList<>();
    for (Chapter chapter : rulebase.chapters()) {
      List<Rule> rules = new ArrayList<>();
      for (Rule rule : chapter.rules()) {
        if (edit instanceof MoveAbove move && move.target().equals(rule.id())) {
          moving.ifPresent(rules::add);
        } else if (edit instanceof InsertAbove insert && insert.target().equals(rule.id())) {
          rules.add(insert.rule());
        }
        if (edit instanceof Replace replace && replace.rule().id().equals(rule.id())) {
          rules.add(replace.rule());
        } else if (!gone(edit, rule)) {
          rules.add(rule);
        }
      }
      chapters.add(chapter.with(rules));
    }
    return new Rulebase(rulebase.name(), chapters, rulebase.parts(), rulebase.defaultVerdict());
  }

  private static boolean gone(Edit edit, Rule rule) {
    return (edit instanceof Remove remove && remove.rule().equals(rule.id()))
        || (edit instanceof MoveAbove move && move.rule().equals(rule.id()));
  }
}
