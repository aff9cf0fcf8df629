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
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * A rulebase as one edition of the catalogue reads it, spelled out over all applications that two
 * editions know together. An application an edition does not know is to it what it rides on first,
 * or nothing it recognises.
 */
final class EditionReading {

  /** A value that holds no application. */
  private static final Value NOTHING =
      new Value.Filter(
          List.of(new Condition(Condition.Trait.CATEGORY, Condition.Comparison.IS, "")));

  private final Catalogue edition;
  private final List<Application> all;
  private final Names names;

  private EditionReading(Catalogue edition, Catalogue together, Names names) {
    this.edition = edition;
    this.all = together.applications();
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
      chapters.add(new Chapter(chapter.id(), chapter.title(), chapter.note(), rules));
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
            parts.reading(),
            parts.capacity());
    return new Rulebase(rulebase.name(), chapters, read, rulebase.lastLine());
  }

  private Rule read(Rule rule) {
    Optional<Field> field = rule.match().field(FieldName.APPLICATIONS);
    if (field.isEmpty()) {
      return rule;
    }
    Set<Value> values = new LinkedHashSet<>();
    for (Value value : names.open(FieldName.APPLICATIONS, field.get())) {
      values.addAll(spelledOut(value));
    }
    if (values.isEmpty()) {
      values.add(NOTHING);
    }
    Field read = new Field(field.get().sense(), List.copyOf(values));
    return new Rule(
        rule.id(),
        rule.name(),
        rule.state(),
        rule.match().with(FieldName.APPLICATIONS, read),
        rule.then(),
        rule.keeping());
  }

  private List<Value> spelledOut(Value value) {
    List<Value> values = new ArrayList<>();
    if (value instanceof Value.FeatureName) {
      return all.stream().anyMatch(a -> has(a, (Value.FeatureName) value))
          ? List.of(value)
          : List.of();
    }
    if (value == Value.Unrecognised.APPLICATION) {
      values.add(value);
    }
    for (Application application : all) {
      if (holds(value, identity(application))) {
        values.add(new Value.ApplicationName(application.name()));
      }
    }
    return values;
  }

  private static boolean has(Application application, Value.FeatureName feature) {
    return application.name().equals(feature.application())
        && application.features().contains(feature.feature());
  }

  private Optional<Application> identity(Application application) {
    return identity(application, edition);
  }

  /** What an application is to an edition; nothing if it is not recognised. */
  static Optional<Application> identity(Application application, Catalogue edition) {
    Optional<Application> known = edition.application(application.name());
    return known.isPresent()
        ? known
        : application.wiring().ridesOn().stream().findFirst().flatMap(edition::application);
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
      sheet.lines().stream()
          .filter(line -> line.rank() < 3 && holds(line.about(), identity(application)))
          .max(java.util.Comparator.comparingInt(UsageSheet.Line::rank))
          .ifPresent(
              line ->
                  lines.add(
                      new UsageSheet.Line(
                          new Value.ApplicationName(application.name()), line.outcome())));
    }
    sheet.lines().stream()
        .filter(line -> line.rank() == 3 && !spelledOut(line.about()).isEmpty())
        .forEach(lines::add);
    return new UsageSheet(sheet.name(), lines, sheet.otherwise(), sheet.note());
  }
}
