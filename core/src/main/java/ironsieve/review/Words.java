package ironsieve.review;

import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.compile.Space;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Value;
import ironsieve.region.IndexSet;
import ironsieve.text.ValueText;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/** The sentences of the review. */
final class Words {

  private final CompiledRulebase compiled;

  Words(CompiledRulebase compiled) {
    this.compiled = compiled;
  }

  /** A share as a percentage that never rounds something to nothing or to all. */
  static String percent(Share share) {
    // Sums of many parts in another order miss each other by the last few bits.
    double percent = Math.rint(share.value() * 1e11) / 1e9;
    String number =
        share.value() > 0 && percent < 0.1
            ? "under 0.1"
            : share.value() < 1 && percent > 99.9
                ? "over 99.9"
                : String.format(
                    Locale.ROOT, percent == Math.rint(percent) ? "%.0f" : "%.1f", percent);
    return (share.certainty() == Share.Certainty.ESTIMATED ? "about " : "") + number + " %";
  }

  /**
   * The part of one rule's claim that another rule claims too: the fields of the other that narrow
   * it.
   */
  String part(int rule, int other) {
    Rule.Match match = compiled.rules().get(other).rule().match();
    Rule.Match own = compiled.rules().get(rule).rule().match();
    List<String> narrowing = new ArrayList<>();
    match
        .fields()
        .forEach(
            (name, field) -> {
              if (narrows(name, field, own)) {
                narrowing.add(name.label() + " " + ValueText.print(field));
              }
            });
    return String.join(", ", narrowing);
  }

  private boolean narrows(FieldName name, Field field, Rule.Match own) {
    Space space = compiled.space();
    IndexSet mine = space.whole(Dimension.of(name).ordinal());
    for (FieldName tied : Dimension.of(name).fields()) {
      if (own.field(tied).isPresent()) {
        mine = mine.intersect(space.side(tied, own.field(tied).get(), compiled.names()));
      }
    }
    return !space.side(name, field, compiled.names()).containsAll(mine);
  }

  /** Why some fields of a rule leave nothing. */
  String clash(Rule rule, List<FieldName> fields) {
    String all =
        fields.stream()
            .map(
                name ->
                    name.label()
                        + " "
                        + rule.match().field(name).map(ValueText::print).orElse("any"))
            .collect(Collectors.joining(" and "));
    if (fields.size() > 1) {
      return "can match nothing: " + all + " have no connection in common";
    }
    FieldName name = fields.get(0);
    Field field = rule.match().field(name).orElseThrow();
    List<Value> opened = compiled.names().open(name, field);
    if (name == FieldName.TIMES) {
      return "can match nothing any more: " + ended(opened);
    }
    if (name == FieldName.PEOPLE && opened.stream().allMatch(Value.GroupName.class::isInstance)) {
      return "can match nobody: " + all.replaceFirst("person ", "") + " has no members";
    }
    return "can match nothing: " + all + " stands for nothing";
  }

  private static String ended(List<Value> spans) {
    return spans.stream()
        .filter(Value.TimeSpan.class::isInstance)
        .map(Value.TimeSpan.class::cast)
        .mapToInt(span -> span.dates().high())
        .max()
        .stream()
        .mapToObj(day -> "its time ended on " + LocalDate.ofEpochDay(day))
        .findFirst()
        .orElse("its times hold no minute");
  }
}
