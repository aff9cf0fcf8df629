package ironsieve.compile;

import ironsieve.model.Application;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Notice;
import ironsieve.model.Outcome;
import ironsieve.model.ReadingLine;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Surroundings;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Finds what cannot be read in a rulebase: names that stand for nothing, sets that hold themselves.
 */
public final class Check {

  private final Names names;
  private final Surroundings surroundings;
  private final Set<String> zones = new HashSet<>();
  private final Set<String> families = new HashSet<>();
  private final Set<String> categories = new HashSet<>();
  private final Set<String> siteCategories = new HashSet<>();
  private final List<Problem> found = new ArrayList<>();

  private Check(Names names) {
    this.names = names;
    this.surroundings = names.surroundings();
    surroundings.zones().forEach(zone -> zones.add(zone.name()));
    siteCategories.addAll(surroundings.atlas().siteCategories());
    for (Application application : surroundings.catalogue().applications()) {
      families.add(application.grouping().family());
      categories.add(application.grouping().category());
    }
  }

  /** Everything in the rulebase that cannot be read; empty if all is well. */
  public static List<Problem> problems(Rulebase rulebase, Names names) {
    Check check = new Check(names);
    rulebase.parts().sets().forEach(check::set);
    rulebase.parts().sheets().forEach(check::sheet);
    rulebase.parts().reading().forEach(check::reading);
    rulebase.rules().forEach(check::rule);
    return check.found;
  }

  /** Everything that cannot be read in some rules, where all they share can be. */
  static List<Problem> problems(List<Rule> rules, Names names) {
    Check check = new Check(names);
    rules.forEach(check::rule);
    return check.found;
  }

  /**
   * Does nothing where there are no problems.
   *
   * @throws ProblemException with all of them
   */
  public static void demand(List<Problem> problems) {
    if (!problems.isEmpty()) {
      throw new ProblemException(problems);
    }
  }

  private void set(NamedSet set) {
    for (Value value : set.values()) {
      say("set", set.name(), "values", problem(set.kind(), value));
    }
    say("set", set.name(), "values", cycle(set));
  }

  private void sheet(UsageSheet sheet) {
    for (UsageSheet.Line line : sheet.lines()) {
      say("sheet", sheet.name(), "values", problem(ValueKind.APPLICATION, line.about()));
      say("sheet", sheet.name(), "then", problem(line.outcome()));
    }
    say("sheet", sheet.name(), "then", problem(sheet.otherwise()));
  }

  private void reading(ReadingLine line) {
    match("reading line", line.id(), line.match());
  }

  private void rule(Rule rule) {
    match("rule", rule.id(), rule.match());
    say("rule", rule.id(), "then", problem(rule.then().outcome()));
    rule.then()
        .sheet()
        .ifPresent(
            sheet ->
                say(
                    "rule",
                    rule.id(),
                    "then",
                    unless(
                        names.sheet(sheet).isPresent(),
                        "there is no usage sheet \"" + sheet + "\"")));
  }

  private void match(String place, String id, Rule.Match match) {
    match
        .fields()
        .forEach(
            (FieldName name, ironsieve.model.Field field) ->
                field
                    .values()
                    .forEach(value -> say(place, id, name.key(), problem(name.kind(), value))));
  }

  private void say(String place, String id, String field, Optional<String> message) {
    message.ifPresent(m -> found.add(new Problem(place, id, field, m)));
  }

  private Optional<String> problem(Outcome outcome) {
    if (outcome.notice().isPresent()) {
      String name = outcome.notice().get();
      Optional<Notice> notice = names.notice(name);
      return notice.isEmpty()
          ? Optional.of("there is no notice \"" + name + "\"")
          : unless(
              notice.get().verdict() == outcome.verdict(),
              "notice \""
                  + name
                  + "\" is for "
                  + notice.get().verdict().word()
                  + ", not for "
                  + outcome.verdict().word());
    }
    return outcome
        .lane()
        .flatMap(lane -> unless(names.lane(lane).isPresent(), "there is no lane \"" + lane + "\""));
  }

  private Optional<String> problem(ValueKind kind, Value value) {
    if (value instanceof Value.SetName name) {
      return unless(
          names.set(kind, name.name()).isPresent(),
          "there is no set of kind " + kind.word() + " called \"" + name.name() + "\"");
    }
    if (value instanceof Value.ZoneName name) {
      return unless(zones.contains(name.name()), "there is no zone \"" + name.name() + "\"");
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
    if (value instanceof Value.CountryName country) {
      return unless(
          surroundings.atlas().countries().containsKey(country.code()),
          "no addresses are known for country \"" + country.code() + "\"");
    }
    if (value instanceof Value.ListName list) {
      return unless(
          surroundings.atlas().lists().containsKey(list.name()),
          "there is no address list \"" + list.name() + "\"");
    }
    if (value instanceof Value.AttributeIs attribute) {
      return unless(
          surroundings.directory().people().stream()
              .anyMatch(person -> person.attributes().containsKey(attribute.key())),
          "nobody in the directory has an attribute \"" + attribute.key() + "\"");
    }
    if (value instanceof Value.SiteCategory category) {
      return unless(
          siteCategories.contains(category.name()),
          "there is no site category \"" + category.name() + "\"");
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
        Optional<NamedSet> next = names.set(from.kind(), inner.name());
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
