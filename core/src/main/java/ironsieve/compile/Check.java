package ironsieve.compile;

import ironsieve.model.Application;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Environment;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Notice;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.text.ValueText;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Finds what cannot be read in a rulebase: names that stand for nothing, sets that hold themselves.
 */
public final class Check {

  /** As deep may sets hold each other. */
  public static final int MOST_DEEP = 50;

  private static final int MOST_NAMED = 12;
  private static final String VALUES = "values";

  private final Names names;
  private final Environment environment;
  private final Set<String> zones = new HashSet<>();
  private final Set<String> families = new HashSet<>();
  private final Set<String> categories = new HashSet<>();
  private final Set<String> siteCategories = new HashSet<>();
  private final List<Problem> found = new ArrayList<>();

  // By identity: to compare two sets is to compare all they hold.
  private final Map<NamedSet, Integer> depths = new IdentityHashMap<>();
  private final Set<NamedSet> circular = Collections.newSetFromMap(new IdentityHashMap<>());

  private Check(Names names) {
    this.names = names;
    this.environment = names.environment();
    environment.zones().forEach(zone -> zones.add(zone.name()));
    siteCategories.addAll(environment.atlas().siteCategories());
    for (Application application : environment.catalogue().applications()) {
      families.add(application.grouping().family());
      categories.add(application.grouping().category());
    }
  }

  /** Everything in the rulebase that cannot be read; empty if all is well. */
  public static List<Problem> problems(Rulebase rulebase, Names names) {
    Check check = new Check(names);
    rulebase.parts().sets().forEach(check::set);
    check.nesting(rulebase.parts().sets());
    rulebase.parts().sheets().forEach(check::sheet);
    rulebase.parts().decryption().forEach(check::reading);
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
      say("set", set.name(), VALUES, value, problem(set.kind(), value));
    }
  }

  private void sheet(UsageSheet sheet) {
    for (UsageSheet.Line line : sheet.lines()) {
      say("sheet", sheet.name(), "values", problem(ValueKind.APPLICATION, line.about()));
      say("sheet", sheet.name(), "then", problem(line.outcome()));
    }
    say("sheet", sheet.name(), "then", problem(sheet.otherwise()));
  }

  private void reading(DecryptionRule line) {
    match("decryption rule", line.id(), line.match());
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
                    .forEach(
                        value -> say(place, id, name.key(), value, problem(name.kind(), value))));
  }

  private void say(String place, String id, String field, Optional<String> message) {
    message.ifPresent(m -> found.add(new Problem(place, id, field, "", m)));
  }

  private void say(String place, String id, String field, Value value, Optional<String> message) {
    message.ifPresent(m -> found.add(new Problem(place, id, field, ValueText.print(value), m)));
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

  /** Why a value stands for nothing here, if it does not. */
  public static Optional<String> problem(ValueKind kind, Value value, Names names) {
    return new Check(names).problem(kind, value);
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
          environment.directory().person(name.login()).isPresent(),
          "nobody in the directory has the login \"" + name.login() + "\"");
    }
    if (value instanceof Value.GroupName name) {
      return unless(
          environment.directory().group(name.name()).isPresent(),
          "the directory has no group \"" + name.name() + "\"");
    }
    if (value instanceof Value.CountryName country) {
      return unless(
          environment.atlas().countries().containsKey(country.code()),
          "no addresses are known for country \"" + country.code() + "\"");
    }
    if (value instanceof Value.ListName list) {
      return unless(
          environment.atlas().lists().containsKey(list.name()),
          "there is no address list \"" + list.name() + "\"");
    }
    if (value instanceof Value.AttributeIs attribute) {
      return unless(
          environment.directory().people().stream()
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
                      word.equals("unknown") || environment.deviceKinds().contains(word),
                      "there is no kind of device \"" + word + "\""));
    }
    if (value instanceof Value.ApplicationName name) {
      return unless(
          environment.catalogue().application(name.name()).isPresent(),
          "the catalogue has no application \"" + name.name() + "\"");
    }
    if (value instanceof Value.FeatureName name) {
      return unless(
          environment
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

  /**
   * Sets that hold themselves, and those that hold others to too great a depth; each set is looked
   * at once, however many others use it.
   */
  private void nesting(List<NamedSet> sets) {
    for (NamedSet set : sets) {
      if (!depths.containsKey(set)) {
        walk(set);
      }
      int depth = depths.get(set);
      if (depth > MOST_DEEP && !circular.contains(set)) {
        say(
            "set",
            set.name(),
            VALUES,
            Optional.of(
                "sets hold each other "
                    + depth
                    + " deep below it; at most "
                    + MOST_DEEP
                    + " are allowed"));
      }
    }
  }

  /** A set that is being looked at, and those in it that are still to be. */
  private record Walked(NamedSet set, Iterator<NamedSet> inside) {}

  /** Depth first without recursion, since sets may hold each other thousands deep. */
  private void walk(NamedSet start) {
    Deque<Walked> path = new ArrayDeque<>();
    Map<NamedSet, Integer> place = new IdentityHashMap<>();
    path.addLast(new Walked(start, inside(start)));
    place.put(start, 0);
    while (!path.isEmpty()) {
      Walked last = path.peekLast();
      if (last.inside().hasNext()) {
        NamedSet next = last.inside().next();
        if (place.containsKey(next)) {
          sayCycle(path, place.get(next));
        } else if (!depths.containsKey(next)) {
          place.put(next, path.size());
          path.addLast(new Walked(next, inside(next)));
        }
      } else {
        path.removeLast();
        place.remove(last.set());
        int depth = 0;
        for (Iterator<NamedSet> inner = inside(last.set()); inner.hasNext(); ) {
          depth = Math.max(depth, depths.getOrDefault(inner.next(), 0) + 1);
        }
        depths.put(last.set(), depth);
      }
    }
  }

  private Iterator<NamedSet> inside(NamedSet set) {
    return set.values().stream()
        .filter(Value.SetName.class::isInstance)
        .flatMap(value -> names.set(set.kind(), ((Value.SetName) value).name()).stream())
        .iterator();
  }

  private void sayCycle(Deque<Walked> path, int from) {
    List<NamedSet> cycle = path.stream().skip(from).map(Walked::set).toList();
    for (int i = 0; i < cycle.size(); i++) {
      NamedSet set = cycle.get(i);
      if (circular.add(set)) {
        List<String> names = new ArrayList<>();
        for (int step = 0; step <= cycle.size(); step++) {
          names.add(cycle.get((i + step) % cycle.size()).name());
        }
        String way =
            names.size() > MOST_NAMED
                ? String.join(" → ", names.subList(0, MOST_NAMED)) + " → …"
                : String.join(" → ", names);
        say("set", set.name(), VALUES, Optional.of("it holds itself: " + way));
      }
    }
  }
}
