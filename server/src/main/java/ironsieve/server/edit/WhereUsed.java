package ironsieve.server.edit;

import ironsieve.compile.Names;
import ironsieve.files.FaultException;
import ironsieve.files.RecordNames;
import ironsieve.files.WorkspaceKind;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.server.store.Company;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;

/** Finds the rules and sets that use a name of the workspace, in all rulebases. */
@ApplicationScoped
public class WhereUsed {

  @Inject Editor editor;
  @Inject Company company;

  /**
   * A rulebase that uses a name.
   *
   * @param others decryption rules and sheets that do, in words
   */
  public record Use(
      String rulebase, String name, List<RuleUse> rules, List<String> sets, List<String> others) {

    private boolean isNone() {
      return rules.isEmpty() && sets.isEmpty() && others.isEmpty();
    }
  }

  /** A rule that does; {@code through} the named set it stands in, or empty. */
  public record RuleUse(String id, int number, String name, String through) {}

  /** A record that is looked for. */
  private record Wanted(WorkspaceKind kind, String id) {

    private boolean isIn(ValueKind field, Value value) {
      return RecordNames.has(field, value, kind, id);
    }
  }

  /**
   * Every use of a record.
   *
   * @param kind the word of a {@link WorkspaceKind}
   * @param id what identifies the record among those of its kind
   */
  public List<Use> of(String kind, String id) {
    Wanted wanted = wanted(kind, id);
    List<Use> uses = new ArrayList<>();
    for (String rulebase : editor.rulebases()) {
      RulebaseSnapshot snapshot = editor.snapshot(rulebase);
      Use use = in(snapshot, wanted);
      if (!use.isNone()) {
        uses.add(use);
      }
    }
    return uses;
  }

  /** Those of the shared sets that no rule and no other set names, as {@code kind:name}. */
  public Set<String> unusedSets() {
    Company.WorkspaceVersion known = company.newest();
    Set<String> unused = new TreeSet<>();
    known.environment().sets().forEach(set -> unused.add(id(set.kind(), set.name())));
    known
        .environment()
        .sets()
        .forEach(set -> unused.removeAll(named(set.kind(), set.values()).toList()));
    for (String id : editor.rulebases()) {
      Rulebase rulebase = rulebase(editor.snapshot(id));
      // A set of the rulebase's own goes before the shared one of its name.
      Set<String> own = new HashSet<>();
      rulebase.sets().forEach(set -> own.add(id(set.kind(), set.name())));
      Stream.concat(
              matches(rulebase)
                  .flatMap(match -> match.fields().entrySet().stream())
                  .flatMap(entry -> named(entry.getKey().kind(), entry.getValue().values())),
              rulebase.sets().stream().flatMap(set -> named(set.kind(), set.values())))
          .filter(name -> !own.contains(name))
          .forEach(unused::remove);
    }
    return unused;
  }

  /** What rules and decryption rules match. */
  private static Stream<Rule.Match> matches(Rulebase rulebase) {
    return Stream.concat(
        rulebase.rules().stream().map(Rule::match),
        rulebase.parts().decryption().stream().map(DecryptionRule::match));
  }

  private static Stream<String> named(ValueKind kind, Collection<Value> values) {
    return values.stream()
        .filter(Value.SetName.class::isInstance)
        .map(value -> id(kind, ((Value.SetName) value).name()));
  }

  private static Wanted wanted(String kind, String id) {
    WorkspaceKind known =
        WorkspaceKind.ofWord(kind)
            .orElseThrow(() -> new FaultException("uses", "kind", "no kind is called " + kind));
    switch (known) {
      case SITE, EDITION, ORGANISATION, SOURCE ->
          throw new FaultException("uses", "kind", "no rule names a " + known.word());
      case SET -> kindOf(id.replaceFirst(":.*", ""));
      default -> {}
    }
    return new Wanted(known, id);
  }

  private static ValueKind kindOf(String word) {
    try {
      return ValueKind.ofWord(word);
    } catch (IllegalArgumentException e) {
      throw new FaultException("uses", "id", e.getMessage());
    }
  }

  private static Use in(RulebaseSnapshot snapshot, Wanted wanted) {
    Rulebase rulebase = rulebase(snapshot);
    Map<String, NamedSet> sets = new HashMap<>();
    new Names(rulebase.parts(), snapshot.environment())
        .sets()
        .forEach(set -> sets.put(id(set.kind(), set.name()), set));
    Holders holders = new Holders(sets, wanted);
    List<RuleUse> rules = new ArrayList<>();
    int number = 0;
    for (Rule rule : rulebase.rules()) {
      number++;
      Optional<String> how = how(rule.match(), holders);
      if (how.isPresent()) {
        rules.add(new RuleUse(rule.id(), number, rule.name(), how.get()));
      }
    }
    List<String> own =
        rulebase.sets().stream()
            .filter(set -> holders.holds(set.kind(), set.name()))
            .map(NamedSet::name)
            .toList();
    List<String> others = new ArrayList<>();
    for (DecryptionRule line : rulebase.parts().decryption()) {
      how(line.match(), holders)
          .map(through -> through.isEmpty() ? "" : " through set " + through)
          .ifPresent(through -> others.add("decryption rule " + line.id() + through));
    }
    for (UsageSheet sheet : rulebase.parts().sheets()) {
      if (sheet.lines().stream()
          .anyMatch(line -> wanted.isIn(ValueKind.APPLICATION, line.about()))) {
        others.add("sheet " + sheet.name());
      }
    }
    return new Use(snapshot.contents().id(), snapshot.contents().name(), rules, own, others);
  }

  /** What it says, which is all that is asked; to compile it would take many times as long. */
  private static Rulebase rulebase(RulebaseSnapshot snapshot) {
    try {
      return snapshot.contents().rulebase();
    } catch (FaultException e) {
      return snapshot.compiled().rulebase();
    }
  }

  /**
   * How a rule, or a decryption rule, uses it: directly, which is empty, or through a set; nothing
   * if it does not.
   */
  private static Optional<String> how(Rule.Match match, Holders holders) {
    Optional<String> through = Optional.empty();
    for (Map.Entry<FieldName, Field> entry : match.fields().entrySet()) {
      ValueKind kind = entry.getKey().kind();
      for (Value value : entry.getValue().values()) {
        if (holders.wanted.isIn(kind, value)) {
          return Optional.of("");
        }
        if (value instanceof Value.SetName name && holders.holds(kind, name.name())) {
          through = Optional.of(name.name());
        }
      }
    }
    return through;
  }

  private static String id(ValueKind kind, String set) {
    return kind.word() + ":" + set;
  }

  /** Which sets hold something, directly or through other sets; each is looked at once. */
  private static final class Holders {
    private final Map<String, NamedSet> sets;
    private final Wanted wanted;
    private final Map<String, Boolean> known = new HashMap<>();

    private Holders(Map<String, NamedSet> sets, Wanted wanted) {
      this.sets = sets;
      this.wanted = wanted;
    }

    private boolean holds(ValueKind kind, String name) {
      String id = id(kind, name);
      Boolean before = known.get(id);
      if (before != null || !sets.containsKey(id)) {
        return before != null && before;
      }
      known.put(id, false);
      boolean found = false;
      for (Value value : sets.get(id).values()) {
        found |=
            wanted.isIn(kind, value)
                || value instanceof Value.SetName inner && holds(kind, inner.name());
      }
      known.put(id, found);
      return found;
    }
  }
}
