package ironsieve.reach;

import ironsieve.compile.BoxPropagation;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.compile.Filters;
import ironsieve.compile.Space;
import ironsieve.impact.Merging;
import ironsieve.model.Application;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Value;
import ironsieve.model.Zone;
import ironsieve.reach.Cell.Standing;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * The map of which people can use which applications, and by which rule. Every application is asked
 * for on its usual ports; devices, times, addresses and host names are left open, and what hangs on
 * them is said. What is asked about is told apart from everything else first, so that shares and
 * witnesses are of that and of nothing that no rule happens to tell from it.
 */
public final class Reach {

  private static final int MOST_PIECES = 20_000;
  private static final long MOST_PAIRS = 4_000_000;
  private static final String ASKED = "what is asked about ";
  private static final int PERSON = Dimension.PERSON.ordinal();
  private static final int FROM = Dimension.FROM.ordinal();
  private static final int TO = Dimension.TO.ordinal();
  private static final int USING = Dimension.USING.ordinal();
  private static final int SERVICE = Dimension.SERVICE.ordinal();

  private final CompiledRulebase compiled;
  private final Space space;
  private final List<Box> between;

  /**
   * A question about what goes from some zones to others.
   *
   * @param from names of zones; none means all
   * @param to names of zones; none means all
   */
  public record Zones(List<String> from, List<String> to) {}

  /**
   * Reach within a rulebase.
   *
   * @param people who is going to be asked about, as a rule names them
   * @param applications what is going to be asked about, likewise
   */
  public Reach(
      CompiledRulebase rulebase, Zones zones, List<Value> people, List<Value> applications) {
    compiled = telling(rulebase, people, applications);
    space = compiled.space();
    between =
        space.ahead().stream()
            .map(box -> box.with(FROM, box.side(FROM).intersect(places(zones.from(), FROM))))
            .map(box -> box.with(TO, box.side(TO).intersect(places(zones.to(), TO))))
            .filter(box -> !box.isEmpty())
            .toList();
  }

  /**
   * The same rulebase over atoms that tell apart what is asked about: with rules below all others
   * that name it and do what the default verdict does.
   */
  private static CompiledRulebase telling(
      CompiledRulebase rulebase, List<Value> people, List<Value> applications) {
    List<Rule> asked = new ArrayList<>();
    if (!people.isEmpty()) {
      asked.add(question(asked.size(), rulebase, Map.of(FieldName.PEOPLE, people)));
    }
    Set<Application> all = new LinkedHashSet<>();
    applications.forEach(value -> all.addAll(named(rulebase.space(), value)));
    for (Application application : all) {
      List<Value> uses = new ArrayList<>();
      uses.add(new Value.ApplicationName(application.name()));
      applications.stream()
          .filter(Value.FeatureName.class::isInstance)
          .filter(value -> ((Value.FeatureName) value).application().equals(application.name()))
          .forEach(uses::add);
      Map<FieldName, List<Value>> fields = new EnumMap<>(FieldName.class);
      fields.put(FieldName.APPLICATIONS, uses);
      if (!application.wiring().usualPorts().isEmpty()) {
        fields.put(FieldName.SERVICES, List.copyOf(application.wiring().usualPorts()));
      }
      asked.add(question(asked.size(), rulebase, fields));
    }
    return ReachQuery.below(rulebase, asked);
  }

  private static Rule question(
      int number, CompiledRulebase rulebase, Map<FieldName, List<Value>> named) {
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    named.forEach((name, values) -> fields.put(name, new Field(Field.Sense.IS, values)));
    return new Rule(
        ASKED + number,
        "",
        Rule.State.ON,
        new Rule.Match(fields, Rule.Ports.ANY),
        new Rule.Then(rulebase.rulebase().defaultVerdict(), Rule.Logging.NOT_LOGGED),
        "");
  }

  private IndexSet places(List<String> zones, int dimension) {
    if (zones.isEmpty()) {
      return space.whole(dimension);
    }
    IndexSet all = IndexSet.EMPTY;
    for (String zone : zones) {
      all = all.union(space.zone(zone));
    }
    return all;
  }

  /** A piece of the question, what catches it, and what happens to it. */
  private record Part(Optional<String> rule, Outcome outcome, Box box) {}

  /**
   * Some people and some applications.
   *
   * @param people a person, group, attribute or anybody (un)identified, as a rule names them
   * @param applications an application, feature, family, category or filter, likewise
   */
  public Cell cell(Value people, Value applications) {
    List<Part> parts = new ArrayList<>();
    boolean complete = gather(people, applications, parts);
    return cell(parts, complete ? Cell.Extent.COMPLETE : Cell.Extent.PARTIAL);
  }

  /**
   * What some people can use between each two zones, pairs of zones where that is the same
   * together. As much work as a cell for each of the applications, and then one look at each pair
   * of zones for each of its pieces.
   *
   * @param people as for a cell
   * @param applications each as for a cell
   * @return nothing if it is too much to look at
   */
  public Optional<List<ZoneGroup>> betweenZones(Value people, List<Value> applications) {
    List<String> zones = space.environment().zones().stream().map(Zone::name).toList();
    ZoneTable table = new ZoneTable(zones, zones);
    List<IndexSet> from = zones.stream().map(zone -> places(List.of(zone), FROM)).toList();
    List<IndexSet> to = zones.stream().map(zone -> places(List.of(zone), TO)).toList();
    for (Value application : applications) {
      table.ask(application);
      List<Part> parts = new ArrayList<>();
      if (!gather(people, application, parts)) {
        return Optional.empty();
      }
      for (Part part : parts) {
        table.say(
            meeting(part.box().side(FROM), from),
            meeting(part.box().side(TO), to),
            part.outcome().verdict().passes());
      }
    }
    return Optional.of(table.groups());
  }

  private static BitSet meeting(IndexSet side, List<IndexSet> zones) {
    BitSet met = new BitSet();
    for (int z = 0; z < zones.size(); z++) {
      met.set(z, side.intersects(zones.get(z)));
    }
    return met;
  }

  private boolean gather(Value people, Value applications, List<Part> parts) {
    boolean complete = true;
    // Applications with the same usual ports are one question.
    Map<List<Value.ServiceRange>, IndexSet> byPorts = new LinkedHashMap<>();
    for (Application application : named(space, applications)) {
      byPorts.merge(
          application.wiring().usualPorts(), uses(application, applications), IndexSet::union);
    }
    IndexSet persons = space.people(people);
    for (Map.Entry<List<Value.ServiceRange>, IndexSet> entry : byPorts.entrySet()) {
      for (Box box : between) {
        Box who = box.with(PERSON, box.side(PERSON).intersect(persons));
        complete &= gather(narrowed(who, entry.getKey(), entry.getValue()), parts);
      }
    }
    return complete;
  }

  /** Everything that decides about one application, whoever uses it. */
  public Cell touching(Application application) {
    List<Part> parts = new ArrayList<>();
    boolean complete = true;
    for (Box box : between) {
      complete &=
          gather(narrowed(box, application.wiring().usualPorts(), uses(application, null)), parts);
    }
    return cell(parts, complete ? Cell.Extent.COMPLETE : Cell.Extent.PARTIAL);
  }

  private static List<Application> named(Space space, Value value) {
    String feature = value instanceof Value.FeatureName f ? f.application() : "";
    return space.environment().catalogue().applications().stream()
        .filter(a -> a.name().equals(feature) || Filters.holds(value, a))
        .toList();
  }

  /** All of an application, or one feature of it. */
  private IndexSet uses(Application application, Value asked) {
    Optional<String> feature =
        asked instanceof Value.FeatureName f ? Optional.of(f.feature()) : Optional.empty();
    return space.uses(application, feature);
  }

  private Box narrowed(Box box, List<Value.ServiceRange> usualPorts, IndexSet uses) {
    Box used = box.with(USING, uses);
    return usualPorts.isEmpty()
        ? used
        : used.with(SERVICE, used.side(SERVICE).intersect(space.serviceAtoms(usualPorts)));
  }

  private boolean gather(Box box, List<Part> parts) {
    return BoxPropagation.through(
        compiled,
        box,
        (piece, n) -> {
          Optional<String> rule =
              Optional.of(n)
                  .filter(number -> number >= 0)
                  .map(number -> compiled.rules().get(compiled.ruleOfBox(number)).rule().id())
                  .filter(id -> !id.startsWith(ASKED));
          parts.add(new Part(rule, compiled.outcomeOfBox(n), piece));
          return parts.size() < MOST_PIECES;
        });
  }

  private Cell cell(List<Part> parts, Cell.Extent extent) {
    List<Box> let = boxes(parts, true);
    List<Box> stopped = boxes(parts, false);
    Standing standing =
        stopped.isEmpty() && !let.isEmpty()
            ? Standing.ALLOWED
            : let.isEmpty() ? Standing.BLOCKED : Standing.DEPENDS;
    List<Dimension> dependsOn =
        standing == Standing.DEPENDS
            ? dependsOn(Merging.merged(let), Merging.merged(stopped))
            : List.of();
    return new Cell(standing, deciders(parts), dependsOn, extent);
  }

  /**
   * The dimensions in which two connections can differ, and in nothing else, of which one is let
   * through and one is not. Where there are none, it is only several together that decide.
   */
  private static List<Dimension> dependsOn(List<Box> let, List<Box> stopped) {
    boolean[] alone = new boolean[Space.DIMENSIONS];
    boolean[] together = new boolean[Space.DIMENSIONS];
    long pairs = 0;
    for (Box passing : let) {
      for (Box blocked : stopped) {
        if (++pairs > MOST_PAIRS) {
          break;
        }
        int apart = 0;
        int last = 0;
        for (int d = 0; d < Space.DIMENSIONS; d++) {
          if (!passing.side(d).intersects(blocked.side(d))) {
            apart++;
            last = d;
            together[d] = true;
          }
        }
        alone[last] |= apart == 1;
      }
    }
    List<Dimension> found = Stream.of(Dimension.values()).filter(d -> alone[d.ordinal()]).toList();
    return found.isEmpty()
        ? Stream.of(Dimension.values()).filter(d -> together[d.ordinal()]).toList()
        : found;
  }

  private static List<Box> boxes(List<Part> parts, boolean passing) {
    return parts.stream()
        .filter(part -> part.outcome().verdict().passes() == passing)
        .map(Part::box)
        .toList();
  }

  private record Deciding(Optional<String> rule, Outcome outcome) {}

  private List<Cell.Decider> deciders(List<Part> parts) {
    Map<Deciding, List<Box>> by = new LinkedHashMap<>();
    double[] whole = new double[2];
    for (Part part : parts) {
      by.computeIfAbsent(new Deciding(part.rule(), part.outcome()), d -> new ArrayList<>())
          .add(part.box());
      whole[version(part.box())] += weight(part.box());
    }
    int versions = (whole[0] > 0 ? 1 : 0) + (whole[1] > 0 ? 1 : 0);
    List<Cell.Decider> deciders = new ArrayList<>();
    by.forEach(
        (deciding, boxes) -> {
          double share = 0;
          for (Box box : boxes) {
            share += weight(box) / whole[version(box)] / versions;
          }
          deciders.add(
              new Cell.Decider(
                  deciding.rule(),
                  deciding.outcome(),
                  share,
                  space.sample(space.example(boxes.get(0)))));
        });
    deciders.sort(Comparator.comparingDouble(Cell.Decider::share).reversed());
    return deciders;
  }

  private double weight(Box box) {
    return box.weight(space.weights());
  }

  private int version(Box box) {
    return space.versionOf(box).ordinal();
  }

  /** What a dimension is called when something hangs on it. */
  public static String word(Dimension dimension) {
    return switch (dimension) {
      case FROM -> "where from";
      case PERSON -> "who";
      case DEVICE -> "the device";
      case TO -> "where to";
      case SITE -> "the host name";
      case SERVICE -> "the port";
      case USING -> "the application or what is done in it";
      case TIME -> "the time";
    };
  }
}
