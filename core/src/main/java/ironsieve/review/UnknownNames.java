package ironsieve.review;

import ironsieve.compile.Names;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Rule;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Names in a rule that stand for nothing here, written in it or in a set or usage sheet that it
 * uses: what they named was removed, or was never there where the rule came from.
 */
final class UnknownNames {

  private final Names names;
  private final Set<String> said = new LinkedHashSet<>();
  private final Set<NamedSet> seen = new HashSet<>();
  private final Set<FieldName> fields = new LinkedHashSet<>();

  private UnknownNames(Names names) {
    this.names = names;
  }

  /** What there is to say of a rule's names; nothing if all of them stand for something. */
  static Optional<Finding> check(Rule rule, Names names) {
    UnknownNames check = new UnknownNames(names);
    for (Map.Entry<FieldName, Field> entry : rule.match().fields().entrySet()) {
      int before = check.said.size();
      check.values(entry.getKey().kind(), entry.getValue().values());
      if (check.said.size() > before) {
        check.fields.add(entry.getKey());
      }
    }
    rule.then().sheet().flatMap(names::sheet).ifPresent(check::sheet);
    return check.said.isEmpty()
        ? Optional.empty()
        : Optional.of(
            new Finding(
                Kind.UNKNOWN_NAME,
                Severity.ERROR,
                rule.id(),
                Sentences.unknownNames(new ArrayList<>(check.said)),
                List.of(),
                List.copyOf(check.fields)));
  }

  private void values(ValueKind kind, List<Value> values) {
    for (Value value : values) {
      names.unknown(kind, value).ifPresent(said::add);
      if (value instanceof Value.SetName name) {
        names.set(kind, name.name()).filter(seen::add).ifPresent(set -> values(kind, set.values()));
      }
    }
  }

  private void sheet(UsageSheet sheet) {
    values(ValueKind.APPLICATION, sheet.lines().stream().map(UsageSheet.Line::about).toList());
  }
}
