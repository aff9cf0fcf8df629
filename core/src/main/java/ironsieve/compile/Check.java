package ironsieve.compile;

import ironsieve.model.DecryptionRule;
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
  private final List<Problem> found = new ArrayList<>();

  // By identity: to compare two sets is to compare all they hold.
  private final Map<NamedSet, Integer> depths = new IdentityHashMap<>();
  private final Set<NamedSet> circular = Collections.newSetFromMap(new IdentityHashMap<>());

  private Check(Names names) {
    this.names = names;
  }

  /** Everything in the rulebase that cannot be read; empty if all is well. */
  public static List<Problem> problems(Rulebase rulebase, Names names) {
    Check check = new Check(names);
    rulebase.parts().sets().forEach(check::set);
    check.nesting(names.sets());
    rulebase.parts().sheets().forEach(check::sheet);
    rulebase.parts().decryption().forEach(check::reading);
    rulebase.rules().forEach(check::rule);
    return check.found;
  }

  /** What is worse about a rulebase than names that stand for nothing. */
  public static List<Problem> broken(Rulebase rulebase, Names names) {
    return problems(rulebase, names).stream()
        .filter(problem -> problem.kind() == Problem.Kind.BROKEN)
        .toList();
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
      unknown("set", set.name(), VALUES, set.kind(), value);
    }
  }

  private void sheet(UsageSheet sheet) {
    for (UsageSheet.Line line : sheet.lines()) {
      unknown("sheet", sheet.name(), VALUES, ValueKind.APPLICATION, line.about());
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
                    .forEach(value -> unknown(place, id, name.key(), name.kind(), value)));
  }

  private void say(String place, String id, String field, Optional<String> message) {
    message.ifPresent(
        m -> found.add(new Problem(Problem.Kind.BROKEN, place, id, field, null, "", m)));
  }

  private void unknown(String place, String id, String field, ValueKind kind, Value value) {
    names
        .unknown(kind, value)
        .ifPresent(
            message ->
                found.add(
                    new Problem(
                        Problem.Kind.UNKNOWN_NAME,
                        place,
                        id,
                        field,
                        kind,
                        ValueText.print(value),
                        message)));
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
