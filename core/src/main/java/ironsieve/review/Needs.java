package ironsieve.review;

import ironsieve.compile.CompiledEdit;
import ironsieve.compile.Dimension;
import ironsieve.compile.Space;
import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Service;
import ironsieve.model.Zone;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.region.Region;
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.Finding.Evidence;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * Finds what an allowed application lacks: another one it needs must be let through from the same
 * places, people and devices at the same times, and to the same places, on any of its usual ports.
 * Name resolution (whatever is usually on port 53) may go anywhere, and is not asked for in a zone
 * that holds the resolvers itself.
 */
final class Needs {

  private static final int FROM = Dimension.FROM.ordinal();
  private static final int TO = Dimension.TO.ordinal();
  private static final int USING = Dimension.USING.ordinal();
  private static final int SERVICE = Dimension.SERVICE.ordinal();
  private static final int SITE = Dimension.SITE.ordinal();
  private static final int MOST_PARTS = 64;

  private final Claims claims;
  private final Space space;
  private final Catalogue catalogue;
  private final Map<String, IndexSet> atoms = new HashMap<>();
  private final Map<String, IndexSet> places = new HashMap<>();
  private final Map<String, Set<String>> resolvers = new HashMap<>();

  // For each application that others need the atoms of those, by name.
  private final Map<String, IndexSet> wanting = new TreeMap<>();
  private final Map<Question, Optional<Box>> answers = new ConcurrentHashMap<>();

  /** Whether an application is let through everywhere in a box. */
  private record Question(String needed, Box asked, Box version) {}

  /**
   * What was known of another revision, and the edit that led to this one.
   *
   * @param resolvers as {@link #resolvers()} had them
   */
  record Earlier(CompiledEdit edit, Map<String, Set<String>> resolvers) {}

  Needs(Claims claims, Optional<Earlier> earlier) {
    this.claims = claims;
    this.space = claims.space();
    this.catalogue = space.environment().catalogue();
    catalogue.applications().forEach(a -> atoms.put(a.name(), space.bare(a)));
    Set<String> names = new HashSet<>();
    catalogue.applications().forEach(a -> names.addAll(a.wiring().needs()));
    for (String name : names) {
      catalogue
          .application(name)
          .filter(Needs::resolvesNames)
          .ifPresent(
              application ->
                  resolvers.put(
                      name,
                      earlier
                          .filter(before -> !touches(before.edit(), application))
                          .map(before -> before.resolvers().get(name))
                          .orElseGet(() -> resolvers(application))));
    }
    for (Application application : catalogue.applications()) {
      for (String name : application.wiring().needs()) {
        if (atoms.containsKey(name)) {
          wanting.merge(name, atoms.get(application.name()), IndexSet::union);
        }
      }
    }
    resolvers.forEach(
        (name, zones) ->
            places.put(
                name, zones.stream().map(space::zone).reduce(IndexSet.EMPTY, IndexSet::union)));
  }

  /** For each application that resolves names the zones that somebody elsewhere asks for them. */
  Map<String, Set<String>> resolvers() {
    return resolvers;
  }

  /**
   * Where those lie that ask for what is in a box: what needs an application that the box holds
   * some of, on its usual ports.
   */
  List<Box> asking(Box box) {
    List<Box> found = new ArrayList<>();
    wanting.forEach(
        (name, wanting) -> {
          boolean held =
              box.side(USING).intersects(atoms.get(name))
                  && box.side(SERVICE).intersects(ports(catalogue.application(name).orElseThrow()));
          if (held) {
            Box asking =
                box.with(SITE, space.whole(SITE))
                    .with(USING, wanting)
                    .with(SERVICE, space.whole(SERVICE));
            found.add(places.containsKey(name) ? asking.with(TO, space.whole(TO)) : asking);
          }
        });
    return found;
  }

  /** Whether a rule names applications. */
  static boolean namesApplications(Rule rule) {
    return rule.match()
        .field(FieldName.APPLICATIONS)
        .map(field -> field.sense() == Field.Sense.IS)
        .orElse(false);
  }

  /** Whether what a rule lets through may need something else. */
  static boolean asks(Rule rule) {
    return rule.then().verdict().passes() && namesApplications(rule);
  }

  private static boolean resolvesNames(Application application) {
    Service dns = new Service(Service.UDP, 53);
    return application.wiring().usualPorts().stream()
        .anyMatch(range -> range.low().equals(dns) && range.high().equals(dns));
  }

  private Set<String> resolvers(Application dns) {
    Set<String> found = new TreeSet<>();
    for (Zone zone : space.environment().zones()) {
      IndexSet inside = space.zone(zone.name());
      List<Box> asked = new ArrayList<>();
      for (Box box : space.ahead()) {
        Box to =
            box.with(TO, box.side(TO).intersect(inside))
                .with(FROM, box.side(FROM).minus(inside))
                .with(USING, atoms.get(dns.name()))
                .with(SERVICE, box.side(SERVICE).intersect(ports(dns)));
        asked.add(to);
      }
      boolean any =
          zone.side() != Zone.Side.OUTSIDE
              && Parts.of(claims, asked).stream()
                  .anyMatch(part -> part.outcome().verdict().passes());
      if (any) {
        found.add(zone.name());
      }
    }
    return found;
  }

  /** Whether an edit has to do with an application at all. */
  private boolean touches(CompiledEdit edit, Application application) {
    IndexSet own = atoms.get(application.name());
    IndexSet ports = ports(application);
    return Stream.concat(
            IntStream.of(edit.touchedBefore().members()).mapToObj(edit.before().rules()::get),
            IntStream.of(edit.touchedAfter().members()).mapToObj(edit.after().rules()::get))
        .flatMap(rule -> rule.boxes().stream())
        .anyMatch(box -> box.side(USING).intersects(own) && box.side(SERVICE).intersects(ports));
  }

  private IndexSet ports(Application application) {
    return application.wiring().usualPorts().isEmpty()
        ? space.whole(SERVICE)
        : space.serviceAtoms(application.wiring().usualPorts());
  }

  /** What a rule lacks, if it names applications and lets them through. */
  Optional<Finding> finding(int rule, List<Candidate> reaching) {
    if (!namesApplications(claims.rules().get(rule).rule())) {
      return Optional.empty();
    }
    Map<String, Set<String>> lacking = new TreeMap<>();
    List<Evidence> evidence = new ArrayList<>();
    for (Candidate part : reaching.subList(0, Math.min(MOST_PARTS, reaching.size()))) {
      if (part.outcome().verdict().passes()) {
        wanting.forEach(
            (needed, by) -> {
              if (by.intersects(part.box().side(USING))) {
                ask(part, needed, lacking, evidence);
              }
            });
      }
    }
    if (lacking.isEmpty()) {
      return Optional.empty();
    }
    return Optional.of(
        new Finding(
            Kind.MISSING_DEPENDENCY,
            Severity.WARNING,
            claims.id(rule),
            Sentences.missingDependency(lacking),
            evidence,
            List.of(FieldName.APPLICATIONS)));
  }

  /** The applications in a box that need another. */
  private Set<String> needing(Box box, String needed) {
    Set<String> names = new TreeSet<>();
    for (Application application : catalogue.applications()) {
      if (application.wiring().needs().contains(needed)
          && atoms.get(application.name()).intersects(box.side(USING))) {
        names.add(application.name());
      }
    }
    return names;
  }

  private void ask(
      Candidate part, String needed, Map<String, Set<String>> lacking, List<Evidence> evidence) {
    Application application = catalogue.application(needed).orElseThrow();
    boolean anywhere = places.containsKey(needed);
    for (Box version : space.ahead()) {
      Box box = part.box().intersect(version);
      Box asked =
          box.with(SITE, space.whole(SITE))
              .with(USING, atoms.get(needed))
              .with(SERVICE, version.side(SERVICE).intersect(ports(application)));
      if (anywhere) {
        asked =
            asked.with(TO, version.side(TO)).with(FROM, box.side(FROM).minus(places.get(needed)));
      }
      if (box.isEmpty() || asked.isEmpty()) {
        continue;
      }
      // Many rules are for the same people in the same places, and so ask the same. Two threads
      // that do so at once come to the same.
      Question question = new Question(needed, asked, version);
      Optional<Box> missing = answers.get(question);
      if (missing == null) {
        missing = missing(question);
        answers.put(question, missing);
      }
      if (missing.isPresent()) {
        lacking.computeIfAbsent(needed, n -> new TreeSet<>()).addAll(needing(part.box(), needed));
        evidence.add(Evidence.of(named(claims.witness(missing.get()), application)));
        return;
      }
    }
  }

  /** Where an application is not let through, if that is so somewhere. */
  private Optional<Box> missing(Question question) {
    Box version = question.version();
    boolean anywhere = places.containsKey(question.needed());
    List<Candidate> parts = Parts.of(claims, List.of(question.asked()));
    Region met =
        Region.of(
            parts.stream()
                .filter(part -> part.outcome().verdict().passes())
                .map(part -> spread(part.box(), version, anywhere))
                .distinct()
                .toList());
    Region unmet = Region.of(List.of(spread(question.asked(), version, anywhere))).minus(met);
    return !unmet.isEmpty() && Parts.complete(parts)
        ? Optional.of(unmet.boxes().get(0).intersect(question.asked()))
        : Optional.empty();
  }

  /** The same witness by the name of what is needed, which nothing tells from what it has. */
  private static Witness named(Witness witness, Application application) {
    Connection c = witness.connection();
    ApplicationUse use =
        new ApplicationUse(
            Optional.of(application.name()),
            application.wiring().ridesOn().stream().findFirst(),
            Optional.empty());
    return new Witness(
        new Connection(c.at(), c.from(), c.to(), c.service(), use), witness.caughtBy());
  }

  /** A box in the dimensions that the application and what it needs have in common. */
  private Box spread(Box box, Box version, boolean anywhere) {
    Box spread =
        box.with(SITE, space.whole(SITE))
            .with(USING, space.whole(USING))
            .with(SERVICE, version.side(SERVICE));
    return anywhere ? spread.with(TO, version.side(TO)) : spread;
  }
}
