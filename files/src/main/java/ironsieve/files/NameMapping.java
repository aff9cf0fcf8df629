package ironsieve.files;

import ironsieve.model.Chapter;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * A rulebase that came from elsewhere with other names in the place of some of its own. A rule of
 * which a field would hold nothing any more is switched off, and its note says why, for a rule
 * without the field would match more than it did.
 */
public final class NameMapping {

  private final Map<Named, Optional<Value>> mapped;

  /** A value where it stands. */
  public record Named(ValueKind kind, Value value) {}

  /**
   * A mapping.
   *
   * @param mapped what to put in the place of a value; nothing to leave it out
   */
  public NameMapping(Map<Named, Optional<Value>> mapped) {
    this.mapped = Map.copyOf(mapped);
  }

  /** The rulebase with every name replaced or left out. */
  public Rulebase of(Rulebase rulebase) {
    List<Chapter> chapters = new ArrayList<>();
    for (Chapter chapter : rulebase.chapters()) {
      chapters.add(chapter.with(chapter.rules().stream().map(this::rule).toList()));
    }
    Parts old = rulebase.parts();
    Parts parts =
        new Parts(
            old.sets().stream().map(this::set).toList(),
            old.sheets().stream().map(this::sheet).toList(),
            old.notices(),
            old.lanes(),
            old.decryption().stream().flatMap(line -> line(line).stream()).toList(),
            old.capacity());
    return new Rulebase(rulebase.name(), chapters, parts, rulebase.defaultVerdict());
  }

  private List<Value> values(ValueKind kind, List<Value> values) {
    Set<Value> all = new LinkedHashSet<>();
    for (Value value : values) {
      Optional<Value> other = mapped.get(new Named(kind, value));
      if (other == null) {
        all.add(value);
      } else {
        other.ifPresent(all::add);
      }
    }
    return List.copyOf(all);
  }

  private Rule rule(Rule rule) {
    Rule.Match match = match(rule.match());
    List<String> emptied = emptied(rule.match());
    if (emptied.isEmpty()) {
      return match.equals(rule.match())
          ? rule
          : new Rule(rule.id(), rule.name(), rule.state(), match, rule.then(), rule.metadata());
    }
    String note =
        "Switched off when it was brought in: nothing is left of "
            + String.join(", ", emptied)
            + ".";
    return new Rule(
        rule.id(),
        rule.name(),
        Rule.State.OFF,
        match,
        rule.then(),
        rule.metadata().withNote(rule.note().isBlank() ? note : rule.note() + " " + note));
  }

  /** The match with other names; without fields that would hold nothing. */
  private Rule.Match match(Rule.Match match) {
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    match
        .fields()
        .forEach(
            (name, field) -> {
              List<Value> values = values(name.kind(), field.values());
              if (!values.isEmpty()) {
                fields.put(name, new Field(field.sense(), values));
              }
            });
    return new Rule.Match(fields, match.ports());
  }

  /** The fields that would hold nothing any more, as they were written. */
  private List<String> emptied(Rule.Match match) {
    List<String> emptied = new ArrayList<>();
    match
        .fields()
        .forEach(
            (name, field) -> {
              if (field.sense() == Field.Sense.IS
                  && values(name.kind(), field.values()).isEmpty()) {
                emptied.add(name.label() + " " + ValueText.print(field));
              }
            });
    return emptied;
  }

  private NamedSet set(NamedSet set) {
    return new NamedSet(set.name(), set.kind(), values(set.kind(), set.values()), set.note());
  }

  private UsageSheet sheet(UsageSheet sheet) {
    List<UsageSheet.Line> lines = new ArrayList<>();
    for (UsageSheet.Line line : sheet.lines()) {
      values(ValueKind.APPLICATION, List.of(line.about()))
          .forEach(about -> lines.add(new UsageSheet.Line(about, line.outcome())));
    }
    return new UsageSheet(sheet.name(), lines, sheet.otherwise(), sheet.note());
  }

  /** A line that would be about everything is left out. */
  private Optional<DecryptionRule> line(DecryptionRule line) {
    return emptied(line.match()).isEmpty()
        ? Optional.of(
            new DecryptionRule(line.id(), match(line.match()), line.decision(), line.note()))
        : Optional.empty();
  }
}
