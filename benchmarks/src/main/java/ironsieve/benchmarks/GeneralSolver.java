package ironsieve.benchmarks;

import com.microsoft.z3.BoolExpr;
import com.microsoft.z3.Context;
import com.microsoft.z3.IntExpr;
import com.microsoft.z3.Solver;
import com.microsoft.z3.Status;
import ironsieve.model.Application;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Value;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Range;
import java.time.DayOfWeek;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Asks a general solver which rules nothing reaches: one Boolean query for each rule, straight from
 * what the fields say, with none of the core's sets. Knows what {@link Generated} makes: IPv4
 * networks, zones, people and groups, services, applications with features, categories and
 * families, weekly times.
 */
// The solver takes its arguments as arrays of a generic type, which Java cannot check.
@SuppressWarnings("unchecked")
final class GeneralSolver implements AutoCloseable {

  private static final int DAY = 24 * 60;
  private static final int WEEK = 7 * DAY;

  private final Environment environment;
  private final Context z3 = new Context();
  private final IntExpr fromZone = z3.mkIntConst("fromZone");
  private final IntExpr toZone = z3.mkIntConst("toZone");
  // −1 stands for any IPv6 address.
  private final IntExpr from = z3.mkIntConst("from");
  private final IntExpr to = z3.mkIntConst("to");
  private final IntExpr person = z3.mkIntConst("person");
  private final IntExpr service = z3.mkIntConst("service");
  private final IntExpr use = z3.mkIntConst("use");
  private final IntExpr minute = z3.mkIntConst("minute");
  private final Map<String, Integer> people = new HashMap<>();
  private final Map<String, Integer> applications = new HashMap<>();
  private final BoolExpr world;
  private int leaves;

  GeneralSolver(Environment environment) {
    this.environment = environment;
    environment.directory().people().forEach(p -> people.put(p.login(), people.size()));
    for (Application application : environment.catalogue().applications()) {
      applications.put(application.name(), leaves);
      leaves += application.features().size() + 1;
    }
    world = world();
  }

  /** What the rules claim, as formulas. */
  List<BoolExpr> claims(List<Rule> rules) {
    return rules.stream().map(this::claim).toList();
  }

  /** For each claim whether nothing reaches it, because those above take all of it. */
  List<Boolean> unreached(List<BoolExpr> claims) {
    Solver solver = z3.mkSolver();
    solver.add(world);
    List<Boolean> answers = new ArrayList<>();
    for (BoolExpr claim : claims) {
      solver.push();
      solver.add(claim);
      answers.add(solver.check() == Status.UNSATISFIABLE);
      solver.pop();
      solver.add(z3.mkNot(claim));
    }
    return answers;
  }

  /** The same, but each question is asked of a solver that knows nothing of those before. */
  List<Boolean> unreachedOneByOne(List<BoolExpr> claims) {
    List<BoolExpr> passed = new ArrayList<>();
    List<Boolean> answers = new ArrayList<>();
    for (BoolExpr claim : claims) {
      Solver solver = z3.mkSolver();
      solver.add(world, claim);
      passed.forEach(solver::add);
      answers.add(solver.check() == Status.UNSATISFIABLE);
      passed.add(z3.mkNot(claim));
    }
    return answers;
  }

  /** What is true of every connection. */
  private BoolExpr world() {
    return z3.mkAnd(
        behind(fromZone, from),
        behind(toZone, to),
        z3.mkEq(z3.mkEq(from, z3.mkInt(-1)), z3.mkEq(to, z3.mkInt(-1))),
        within(person, 0, people.size()),
        within(use, -1, leaves - 1),
        within(minute, 0, WEEK - 1),
        realService());
  }

  /** Every protocol has its own details; protocols without any have only 0. ICMP goes with IPv4. */
  private BoolExpr realService() {
    List<BoolExpr> protocols = new ArrayList<>();
    for (int protocol = 0; protocol < 256; protocol++) {
      int low = protocol << 16;
      BoolExpr fits = within(service, low, low + ironsieve.model.Service.lastDetail(protocol));
      if (protocol == ironsieve.model.Service.ICMP) {
        fits = z3.mkAnd(fits, z3.mkNot(z3.mkEq(from, z3.mkInt(-1))));
      } else if (protocol == ironsieve.model.Service.ICMPV6) {
        fits = z3.mkAnd(fits, z3.mkEq(from, z3.mkInt(-1)));
      }
      protocols.add(fits);
    }
    return z3.mkOr(protocols.toArray(BoolExpr[]::new));
  }

  private BoolExpr behind(IntExpr zone, IntExpr address) {
    List<BoolExpr> places = new ArrayList<>();
    List<BoolExpr> named = new ArrayList<>();
    int rest = -1;
    for (int z = 0; z < environment.zones().size(); z++) {
      Zone one = environment.zones().get(z);
      if (one.networks().isEmpty()) {
        rest = z;
        continue;
      }
      BoolExpr inside = any(one.networks().stream().map(r -> network(address, r)).toList());
      named.add(inside);
      places.add(z3.mkAnd(z3.mkEq(zone, z3.mkInt(z)), inside));
    }
    places.add(
        z3.mkAnd(
            z3.mkEq(zone, z3.mkInt(rest)),
            within(address, -1, (1L << 32) - 1),
            z3.mkNot(any(named))));
    return any(places);
  }

  private BoolExpr any(List<BoolExpr> alternatives) {
    return z3.mkOr(alternatives.toArray(BoolExpr[]::new));
  }

  private BoolExpr within(IntExpr number, long low, long high) {
    return z3.mkAnd(z3.mkGe(number, z3.mkInt(low)), z3.mkLe(number, z3.mkInt(high)));
  }

  private BoolExpr network(IntExpr address, Range<Address> range) {
    return within(
        address, range.low().number().longValueExact(), range.high().number().longValueExact());
  }

  private BoolExpr claim(Rule rule) {
    List<BoolExpr> fields = new ArrayList<>();
    rule.match().fields().forEach((name, field) -> fields.add(field(name, field)));
    return z3.mkAnd(fields.toArray(BoolExpr[]::new));
  }

  private BoolExpr field(FieldName name, Field field) {
    BoolExpr held = any(field.values().stream().map(value -> value(name, value)).toList());
    return field.sense() == Field.Sense.IS ? held : z3.mkNot(held);
  }

  private BoolExpr value(FieldName name, Value value) {
    if (value instanceof Value.ZoneName zone) {
      int number = environment.zones().stream().map(Zone::name).toList().indexOf(zone.name());
      return z3.mkEq(name == FieldName.FROM_ZONES ? fromZone : toZone, z3.mkInt(number));
    }
    if (value instanceof Value.Network net) {
      return network(name == FieldName.FROM_NETWORKS ? from : to, net.range());
    }
    if (value instanceof Value.PersonName login) {
      return z3.mkEq(person, z3.mkInt(people.get(login.login())));
    }
    if (value instanceof Value.GroupName group) {
      List<BoolExpr> members = new ArrayList<>();
      for (Directory.Person one : environment.directory().people()) {
        if (environment.directory().groupsOf(one).contains(group.name())) {
          members.add(z3.mkEq(person, z3.mkInt(people.get(one.login()))));
        }
      }
      return any(members);
    }
    if (value instanceof Value.ServiceRange range) {
      return within(service, range.low().number(), range.high().number());
    }
    if (value instanceof Value.TimeSpan span) {
      return time(span);
    }
    return application(value);
  }

  private BoolExpr application(Value value) {
    List<BoolExpr> held = new ArrayList<>();
    for (Application application : environment.catalogue().applications()) {
      int first = applications.get(application.name());
      if (value instanceof Value.FeatureName f && f.application().equals(application.name())) {
        int feature = application.features().indexOf(f.feature());
        held.add(z3.mkEq(use, z3.mkInt(first + 1 + feature)));
      } else if (holds(value, application)) {
        held.add(within(use, first, first + application.features().size()));
      }
    }
    return any(held);
  }

  private static boolean holds(Value value, Application application) {
    if (value instanceof Value.ApplicationName name) {
      return name.name().equals(application.name());
    }
    if (value instanceof Value.CategoryName name) {
      return name.name().equals(application.grouping().category());
    }
    return value instanceof Value.FamilyName name
        && name.name().equals(application.grouping().family());
  }

  private BoolExpr time(Value.TimeSpan span) {
    int length = span.toMinute() - span.fromMinute();
    int minutes = length > 0 ? length : length + DAY;
    List<BoolExpr> runs = new ArrayList<>();
    for (DayOfWeek day : span.days()) {
      int begin = (day.getValue() - 1) * DAY + span.fromMinute();
      runs.add(within(minute, begin, begin + minutes - 1L));
      runs.add(within(minute, begin - WEEK, begin + minutes - 1L - WEEK));
    }
    return any(runs);
  }

  @Override
  public void close() {
    z3.close();
  }
}
