package ironsieve.compile;

import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Lane;
import ironsieve.model.NamedSet;
import ironsieve.model.Notice;
import ironsieve.model.Parts;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** What the names in a rulebase stand for. */
public final class Names {

  private record SetKey(ValueKind kind, String name) {}

  private final Parts parts;
  private final Environment environment;
  private final Map<SetKey, NamedSet> sets = new HashMap<>();

  /** Filled as sets are asked for, by many threads at once. */
  private final Map<SetKey, List<Value>> opened = new ConcurrentHashMap<>();

  private final Map<String, UsageSheet> sheets = new HashMap<>();
  private final Map<String, Notice> notices = new HashMap<>();
  private final Map<String, Lane> lanes = new HashMap<>();
  private final KnownNames known;

  /** The names of these parts in these surroundings. */
  public Names(Parts parts, Environment environment) {
    this.parts = parts;
    this.environment = environment;
    known = new KnownNames(environment);
    environment.sets().forEach(set -> sets.put(new SetKey(set.kind(), set.name()), set));
    parts.sets().forEach(set -> sets.put(new SetKey(set.kind(), set.name()), set));
    parts.sheets().forEach(sheet -> sheets.put(sheet.name(), sheet));
    parts.notices().forEach(notice -> notices.put(notice.name(), notice));
    parts.lanes().forEach(lane -> lanes.put(lane.name(), lane));
  }

  public Parts parts() {
    return parts;
  }

  public Environment environment() {
    return environment;
  }

  /** All sets that can be named: those of the rulebase, and those that all rulebases share. */
  public List<NamedSet> sets() {
    return List.copyOf(sets.values());
  }

  /** The set with this name, if there is one. */
  public Optional<NamedSet> set(ValueKind kind, String name) {
    return Optional.ofNullable(sets.get(new SetKey(kind, name)));
  }

  /** The usage sheet with this name, if there is one. */
  public Optional<UsageSheet> sheet(String name) {
    return Optional.ofNullable(sheets.get(name));
  }

  /** The notice with this name, if there is one. */
  public Optional<Notice> notice(String name) {
    return Optional.ofNullable(notices.get(name));
  }

  /** The lane with this name, if there is one. */
  public Optional<Lane> lane(String name) {
    return Optional.ofNullable(lanes.get(name));
  }

  /** Why a value stands for nothing here, if it does: what it names may be gone, or misspelt. */
  public Optional<String> unknown(ValueKind kind, Value value) {
    if (value instanceof Value.SetName name) {
      return set(kind, name.name()).isPresent()
          ? Optional.empty()
          : Optional.of(
              "there is no set of kind " + kind.word() + " called \"" + name.name() + "\"");
    }
    return known.problem(value);
  }

  /**
   * The values of a field with every named set replaced by what it holds; without those that stand
   * for nothing.
   */
  public List<Value> open(FieldName name, Field field) {
    List<Value> all = new ArrayList<>();
    field.values().forEach(value -> all.addAll(open(name.kind(), value)));
    return all;
  }

  /**
   * One value with named sets replaced by what they hold, to any depth; without those that stand
   * for nothing.
   */
  public List<Value> open(ValueKind kind, Value value) {
    // What is left out of a category may be gone; the category is still meant.
    if (!(value instanceof Value.Filter) && unknown(kind, value).isPresent()) {
      return List.of();
    }
    if (!(value instanceof Value.SetName name)) {
      return List.of(value);
    }
    SetKey key = new SetKey(kind, name.name());
    List<Value> all = opened.get(key);
    if (all == null) {
      Set<Value> distinct = new LinkedHashSet<>();
      sets.get(key).values().forEach(inner -> distinct.addAll(open(kind, inner)));
      all = List.copyOf(distinct);
      opened.put(key, all);
    }
    return all;
  }
}
