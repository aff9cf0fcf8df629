package ironsieve.impact;

import ironsieve.compile.Filters;
import ironsieve.compile.Names;
import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Chapter;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.Value.Condition;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * A rulebase as one edition of the catalogue reads it, spelled out over all applications that two
 * editions know together. An application an edition does not know is to it what it rides on, over
 * each carrier that one, or nothing it recognises; and is held to the usual ports of that.
 */
final class EditionReading {

  /** A value that holds no application. */
  private static final Value NOTHING =
      new Value.Filter(
          List.of(new Condition(Condition.Trait.CATEGORY, Condition.Comparison.IS, "")));

  private final Catalogue edition;
  private final Catalogue together;
  private final List<Application> all;
  private final List<Application> strange;
  private final Names names;
  private final Map<Value, List<Value>> spelled = new HashMap<>();

  private EditionReading(Catalogue edition, Catalogue together, Names names) {
    this.edition = edition;
    this.together = together;
    this.all = together.applications();
    strange = all.stream().filter(one -> edition.application(one.name()).isEmpty()).toList();
    this.names = names;
  }

  /** Both editions together; what they know both is as the newer has it. */
  static Catalogue together(Catalogue before, Catalogue after) {
    List<Application> all = new ArrayList<>(after.applications());
    before.applications().stream()
        .filter(application -> after.application(application.name()).isEmpty())
        .forEach(all::add);
    return new Catalogue(after.edition(), all);
  }

  /** The same rulebase with every application value spelled out as this edition reads it. */
  static Rulebase of(Rulebase rulebase, Catalogue edition, Catalogue together, Names names) {
    return new EditionReading(edition, together, names).read(rulebase);
  }

  private Rulebase read(Rulebase rulebase) {
    List<Chapter> chapters = new ArrayList<>();
    for (Chapter chapter : rulebase.chapters()) {
      List<Rule> rules = chapter.rules().stream().map(this::read).toList();
      chapters.add(chapter.with(rules));
    }
    Parts parts = rulebase.parts();
    Parts read =
        new Parts(
            parts.sets().stream()
                .filter(set -> set.kind() != FieldName.APPLICATIONS.kind())
                .toList(),
            parts.sheets().stream().map(this::read).toList(),
            parts.notices(),
            parts.lanes(),
            parts.decryption(),
            parts.capacity());
    return new Rulebase(rulebase.name(), chapters, read, rulebase.defaultVerdict());
  }

  private Rule read(Rule rule) {
    Optional<Field> field = rule.match().field(FieldName.APPLICATIONS);
    if (rule.match().ports() == Rule.Ports.USUAL && all.stream().anyMatch(this::isElsewhere)) {
      return with(rule, Rule.Ports.ANY, Field.Sense.IS, onPorts(field));
    }
    if (field.isEmpty()) {
      return rule;
    }
    List<Value> values = new ArrayList<>();
    for (Value value : names.open(FieldName.APPLICATIONS, field.get())) {
      values.addAll(spelledOut(value));
    }
    return with(rule, rule.match().ports(), field.get().sense(), values);
  }

  private static Rule with(Rule rule, Rule.Ports ports, Field.Sense sense, List<Value> values) {
    List<Value> some = values.isEmpty() ? List.of(NOTHING) : values.stream().distinct().toList();
    Rule.Match match = rule.match().with(FieldName.APPLICATIONS, new Field(sense, some));
    return new Rule(
        rule.id(),
        rule.name(),
        rule.state(),
        new Rule.Match(match.fields(), ports),
        rule.then(),
        rule.metadata());
  }

  /** Whether an application is on other ports to this edition than to both together. */
  private boolean isElsewhere(Application application) {
    return application.carriers().stream()
        .anyMatch(
            carrier -> !ports(application, carrier).equals(application.wiring().usualPorts()));
  }

  private List<Value.ServiceRange> ports(Application application, Optional<String> carrier) {
    return identity(application, carrier)
        .map(identity -> identity.wiring().usualPorts())
        .orElse(List.of());
  }

  /** What a field holds, or all there is, each on the ports that are usual to this edition. */
  private List<Value> onPorts(Optional<Field> field) {
    List<Value> named =
        field.map(some -> names.open(FieldName.APPLICATIONS, some)).orElse(List.of());
    boolean isNamed = field.map(some -> some.sense() == Field.Sense.IS).orElse(false);
    List<Value> values = new ArrayList<>();
    if (named.contains(Value.Unrecognised.APPLICATION) == isNamed) {
      values.add(Value.Unrecognised.APPLICATION);
    }
    for (Application application : all) {
      List<Optional<String>> parts = application.parts();
      for (Optional<String> carrier : application.carriers()) {
        Set<Optional<String>> meant = new LinkedHashSet<>();
        for (Optional<String> part : parts) {
          if (isAny(named, application, carrier, part) == isNamed) {
            meant.add(part);
          }
        }
        if (!meant.isEmpty()) {
          boolean whole = meant.size() == parts.size();
          values.add(
              new Value.ApplicationOver(
                  application.name(),
                  carrier,
                  whole ? Set.of() : meant,
                  ports(application, carrier)));
        }
      }
    }
    return values;
  }

  private boolean isAny(
      List<Value> named,
      Application application,
      Optional<String> carrier,
      Optional<String> feature) {
    Optional<Application> identity = identity(application, carrier);
    Optional<Value.FeatureName> asFeature =
        feature.map(name -> new Value.FeatureName(application.name(), name)).filter(this::has);
    return named.stream()
        .anyMatch(value -> holds(value, identity) || asFeature.map(value::equals).orElse(false));
  }

  /** A rulebase says the same value again and again; each is spelled out once. */
  private List<Value> spelledOut(Value value) {
    List<Value> known = spelled.get(value);
    if (known == null) {
      known = spell(value);
      spelled.put(value, known);
    }
    return known;
  }

  private List<Value> spell(Value value) {
    List<Value> values = new ArrayList<>();
    if (value instanceof Value.FeatureName feature) {
      return has(feature) ? List.of(value) : List.of();
    }
    if (value == Value.Unrecognised.APPLICATION) {
      values.add(value);
    }
    for (Application application : candidates(value)) {
      values.addAll(spelledOut(application, value));
    }
    return values;
  }

  /**
   * What a value may hold: by its name one application, and those this edition does not know, which
   * are to it what they come over; otherwise any.
   */
  private List<Application> candidates(Value value) {
    if (!(value instanceof Value.ApplicationName name)) {
      return all;
    }
    return Stream.concat(
            together.application(name.name()).stream()
                .filter(application -> edition.application(application.name()).isPresent()),
            strange.stream())
        .toList();
  }

  /** An application by name if it is meant over all its carriers, otherwise over some of them. */
  private List<Value> spelledOut(Application application, Value value) {
    List<Optional<String>> carriers = application.carriers();
    List<Value> meant =
        carriers.stream()
            .filter(carrier -> holds(value, identity(application, carrier)))
            .map(carrier -> whole(application, carrier))
            .toList();
    return meant.size() == carriers.size()
        ? List.of(new Value.ApplicationName(application.name()))
        : meant;
  }

  private static Value whole(Application application, Optional<String> carrier) {
    return new Value.ApplicationOver(application.name(), carrier, Set.of(), List.of());
  }

  /** Whether this edition knows a feature. */
  private boolean has(Value.FeatureName feature) {
    return edition
        .application(feature.application())
        .map(application -> application.features().contains(feature.feature()))
        .orElse(false);
  }

  /** What an application over a carrier is to this edition; nothing if it is not recognised. */
  private Optional<Application> identity(Application application, Optional<String> carrier) {
    return edition.application(application.name()).or(() -> carrier.flatMap(edition::application));
  }

  private static boolean holds(Value value, Optional<Application> identity) {
    return identity
        .map(application -> Filters.holds(value, application))
        .orElse(value == Value.Unrecognised.APPLICATION);
  }

  /** A sheet with a line of its own for every application that some line is about. */
  private UsageSheet read(UsageSheet sheet) {
    List<UsageSheet.Line> lines = new ArrayList<>();
    for (Application application : all) {
      for (Optional<String> carrier : application.carriers()) {
        Optional<Application> identity = identity(application, carrier);
        sheet.lines().stream()
            .filter(line -> line.rank() < 3 && holds(line.about(), identity))
            .max(Comparator.comparingInt(UsageSheet.Line::rank))
            .map(UsageSheet.Line::outcome)
            .ifPresent(
                outcome -> lines.add(new UsageSheet.Line(whole(application, carrier), outcome)));
      }
    }
    sheet.lines().stream()
        .filter(line -> line.rank() == 3 && !spelledOut(line.about()).isEmpty())
        .forEach(lines::add);
    return new UsageSheet(sheet.name(), lines, sheet.otherwise(), sheet.note());
  }
}
