package ironsieve.compile;

import ironsieve.model.Chapter;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Surroundings;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Zone;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What the names in a rulebase stand for: opens named sets, and finds names that stand for nothing
 * and sets that hold themselves.
 */
public final class Names {

  private record SetKey(ValueKind kind, String name) {}

  private final Surroundings surroundings;
  private final Map<SetKey, NamedSet> sets = new HashMap<>();
  private final Map<SetKey, List<Value>> opened = new HashMap<>();
  private final Set<String> families = new LinkedHashSet<>();
  private final Set<String> categories = new LinkedHashSet<>();

  /** The names of these sets in these surroundings. */
  public Names(List<NamedSet> sets, Surroundings surroundings) {
    this.surroundings = surroundings;
    sets.forEach(set -> this.sets.put(new SetKey(set.kind(), set.name()), set));
    surroundings
        .catalogue()
        .applications()
        .forEach(
            application -> {
              families.add(application.grouping().family());
              categories.add(application.grouping().category());
            });
  }

  /** The set with this name, if there is one. */
  public Optional<NamedSet> set(ValueKind kind, String name) {
    return Optional.ofNullable(sets.get(new SetKey(kind, name)));
  }

  /** The values of a field with every named set replaced by what it holds. */
  public List<Value> open(FieldName name, Field field) {
    List<Value> all = new ArrayList<>();
    field.values().forEach(value -> all.addAll(open(name.kind(), value)));
    return all;
  }

  /** One value with named sets replaced by what they hold, to any depth. */
  public List<Value> open(ValueKind kind, Value value) {
    if (!(value instanceof Value.SetName name)) {
      return List.of(value);
    }
    SetKey key = new SetKey(kind, name.name());
    List<Value> known = opened.get(key);
    if (known == null) {
      Set<Value> all = new LinkedHashSet<>();
      sets.get(key).values().forEach(inner -> all.addAll(open(kind, inner)));
      known = List.copyOf(all);
      opened.put(key, known);
    }
    return known;
  }

  /** Everything in the rulebase that cannot be read; empty if all is well. */
  public List<Problem> problems(Rulebase rulebase) {
    List<Problem> found = new ArrayList<>();
    for (NamedSet set : rulebase.sets()) {
      for (Value value : set.values()) {
        problem(set.kind(), value)
            .ifPresent(m -> found.add(new Problem("set", set.name(), Optional.empty(), m)));
      }
      cycle(set).ifPresent(m -> found.add(new Problem("set", set.name(), Optional.empty(), m)));
    }
    for (Chapter chapter : rulebase.chapters()) {
      for (Rule rule : chapter.rules()) {
        found.addAll(problems(rule));
      }
    }
    return found;
  }

  /** Everything in one rule that cannot be read. */
  public List<Problem> problems(Rule rule) {
    List<Problem> found = new ArrayList<>();
    rule.match()
        .fields()
        .forEach(
            (name, field) ->
                field
                    .values()
                    .forEach(
                        value ->
                            problem(name.kind(), value)
                                .ifPresent(
                                    m ->
                                        found.add(
                                            new Problem(
                                                "rule", rule.id(), Optional.of(name), m)))));
    return found;
  }

  private Optional<String> problem(ValueKind kind, Value value) {
    if (value instanceof Value.SetName name) {
      return unless(
          set(kind, name.name()).isPresent(),
          "there is no set of kind " + kind.word() + " called \"" + name.name() + "\"");
    }
    if (value instanceof Value.ZoneName name) {
      return unless(
          surroundings.zones().stream().map(Zone::name).anyMatch(name.name()::equals),
          "there is no zone \"" + name.name() + "\"");
    }
    if (value instanceof Value.PersonName name) {
      return unless(
          surroundings.directory().person(name.login()).isPresent(),
          "nobody in the directory has the login \"" + name.login() + "\"");
    }
    if (value instanceof Value.GroupName name) {
      return unless(
          surroundings.directory().group(name.name()).isPresent(),
          "the directory has no group \"" + name.name() + "\"");
    }
    if (value instanceof Value.DeviceClass device) {
      return device
          .kind()
          .flatMap(
              word ->
                  unless(
                      word.equals("unknown") || surroundings.deviceKinds().contains(word),
                      "there is no kind of device \"" + word + "\""));
    }
    if (value instanceof Value.ApplicationName name) {
      return unless(
          surroundings.catalogue().application(name.name()).isPresent(),
          "the catalogue has no application \"" + name.name() + "\"");
    }
    if (value instanceof Value.FeatureName name) {
      return unless(
          surroundings
              .catalogue()
              .application(name.application())
              .map(a -> a.features().contains(name.feature()))
              .orElse(false),
          "the catalogue has no feature \"" + name.application() + "/" + name.feature() + "\"");
    }
    if (value instanceof Value.FamilyName name) {
      return unless(
          !name.name().isEmpty() && families.contains(name.name()),
          "the catalogue has no family \"" + name.name() + "\"");
    }
    if (value instanceof Value.CategoryName name) {
      return unless(
          categories.contains(name.name()),
          "the catalogue has no category \"" + name.name() + "\"");
    }
    return Optional.empty();
  }

  private static Optional<String> unless(boolean fine, String message) {
    return fine ? Optional.empty() : Optional.of(message);
  }

  /** The path on which a set holds itself, as a sentence. */
  private Optional<String> cycle(NamedSet start) {
    return path(start, start.name(), new ArrayList<>(List.of(start.name())))
        .map(path -> "it holds itself: " + String.join(" → ", path));
  }

  private Optional<List<String>> path(NamedSet from, String goal, List<String> walked) {
    for (Value value : from.values()) {
      if (value instanceof Value.SetName inner) {
        List<String> longer = new ArrayList<>(walked);
        longer.add(inner.name());
        if (inner.name().equals(goal)) {
          return Optional.of(longer);
        }
        Optional<NamedSet> next = set(from.kind(), inner.name());
        if (next.isPresent() && !walked.contains(inner.name())) {
          Optional<List<String>> found = path(next.get(), goal, longer);
          if (found.isPresent()) {
            return found;
          }
        }
      }
    }
    return Optional.empty();
  }
}
