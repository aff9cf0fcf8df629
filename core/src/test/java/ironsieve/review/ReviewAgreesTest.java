package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.SmallWorld.Point;
import ironsieve.Twin;
import ironsieve.WebWorld;
import ironsieve.World;
import ironsieve.compile.CompiledRulebase;
import ironsieve.decide.Decider;
import ironsieve.model.Chapter;
import ironsieve.model.Connection;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.UsageSheet;
import ironsieve.model.Verdict;
import ironsieve.region.Address;
import ironsieve.review.Finding.Kind;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/** Every finding, residue and witness is held against plain enumeration of all connections. */
class ReviewAgreesTest {

  /** The points of a world, and which of them agree in what. */
  private static final class Plane {
    final World world;
    final List<Point> points;
    final int[][] coordinates = new int[FieldName.values().length][];
    final int[] ports;
    final int[][] variants;
    final int[] first;
    final List<BitSet> alikeAtFirst = new ArrayList<>();
    final double[] weights;
    final int[] versions;

    Plane(World world) {
      this.world = world;
      points = world.ahead();
      weights = points.stream().mapToDouble(Point::weight).toArray();
      versions =
          points.stream()
              .mapToInt(p -> p.connection().to().address().version().ordinal())
              .toArray();
      for (FieldName name : FieldName.values()) {
        coordinates[name.ordinal()] = numbered(c -> part(name, c));
      }
      ports = numbered(c -> List.of(c.service(), c.using()));
      first = numbered(c -> List.of(c.from(), c.to().place(), c.service(), c.at()));
      for (int p = 0; p < first.length; p++) {
        while (alikeAtFirst.size() <= first[p]) {
          alikeAtFirst.add(new BitSet());
        }
        alikeAtFirst.get(first[p]).set(p);
      }
      Map<Connection, Integer> places = new HashMap<>();
      for (int p = 0; p < points.size(); p++) {
        places.put(points.get(p).connection(), p);
      }
      Twin twin = new Twin(Rulebases.of("allow"), world.environment());
      variants =
          points.stream()
              .map(p -> twin.variants(p.connection()).stream().mapToInt(places::get).toArray())
              .toArray(int[][]::new);
    }

    private static Object part(FieldName name, Connection c) {
      return switch (name) {
        case FROM_ZONES, FROM_NETWORKS -> c.from().place();
        case PEOPLE -> c.from().person();
        case DEVICES -> c.from().device();
        case TO_ZONES, TO_NETWORKS, TO_SITES -> c.to();
        case SERVICES -> c.service();
        case APPLICATIONS -> c.using();
        case TIMES -> c.at();
      };
    }

    private int[] numbered(Function<Connection, Object> part) {
      Map<Object, Integer> numbers = new HashMap<>();
      return points.stream()
          .mapToInt(p -> numbers.computeIfAbsent(part.apply(p.connection()), k -> numbers.size()))
          .toArray();
    }

    Connection connection(int p) {
      return points.get(p).connection();
    }
  }

  // A world is as many points as it has, which takes as long to hash as a rulebase to review.
  private static final Map<World, Plane> PLANES =
      new IdentityHashMap<>(
          Map.of(
              SmallWorld.WORLD,
              new Plane(SmallWorld.WORLD),
              WebWorld.WORLD,
              new Plane(WebWorld.WORLD)));

  /** What enumeration says of one rulebase. */
  private static final class Enumerated {
    final Plane plane;
    final Twin twin;
    final List<Rule> rules;
    final Rulebase rulebase;
    final List<BitSet> claims = new ArrayList<>();
    final List<BitSet> unseen = new ArrayList<>();
    final BitSet readable = new BitSet();
    final int[] catcher;
    private final Map<Integer, Boolean> leaking = new HashMap<>();

    Enumerated(Rulebases.Case given) {
      this.plane = PLANES.get(given.world());
      this.rulebase = given.rulebase();
      rules = rulebase.rules().stream().filter(Rule::isOn).toList();
      twin = new Twin(rulebase, given.world().environment());
      for (int p = 0; p < plane.points.size(); p++) {
        readable.set(p, given.world() == SmallWorld.WORLD || twin.readable(plane.connection(p)));
      }
      catcher = new int[plane.points.size()];
      Arrays.fill(catcher, -1);
      for (int r = 0; r < rules.size(); r++) {
        BitSet claim = claim(rules.get(r));
        for (int p = claim.nextSetBit(0); p >= 0; p = claim.nextSetBit(p + 1)) {
          if (catcher[p] < 0) {
            catcher[p] = r;
          }
        }
        claims.add(claim);
      }
    }

    /** All fields must hold, so each is asked once for each part of a connection it looks at. */
    private BitSet claim(Rule rule) {
      BitSet open = new BitSet();
      open.set(0, plane.points.size());
      for (FieldName name : rule.match().fields().keySet()) {
        keep(open, plane.coordinates[name.ordinal()], c -> twin.holds(rule, name, c));
      }
      if (rule.match().ports() == Rule.Ports.USUAL) {
        keep(open, plane.ports, twin::usual);
      }
      BitSet claim = (BitSet) open.clone();
      for (int p = open.nextSetBit(0); p >= 0; p = open.nextSetBit(p + 1)) {
        if (!readable.get(p) && !Arrays.stream(plane.variants[p]).allMatch(open::get)) {
          claim.clear(p);
        }
      }
      open.andNot(claim);
      unseen.add(open);
      return claim;
    }

    private void keep(BitSet claim, int[] coordinates, Predicate<Connection> holds) {
      int[] known = new int[1024];
      for (int p = claim.nextSetBit(0); p >= 0; p = claim.nextSetBit(p + 1)) {
        int at = coordinates[p];
        if (known[at] == 0) {
          known[at] = holds.test(plane.connection(p)) ? 1 : 2;
        }
        if (known[at] == 2) {
          claim.clear(p);
        }
      }
    }

    Outcome outcome(int rule, int point) {
      return rule < 0
          ? Outcome.of(rulebase.defaultVerdict())
          : twin.outcome(rules.get(rule), plane.connection(point));
    }

    boolean alike(int one, int other, int point) {
      return outcome(one, point).equals(outcome(other, point));
    }

    Set<Kind> kinds(int r) {
      // No rule of these tests has a note.
      Set<Kind> kinds = new TreeSet<>(Set.of(Kind.UNNOTED));
      kinds.addAll(whoTakes(r));
      boolean blind = !unseen.get(r).isEmpty();
      if (blind) {
        kinds.add(Kind.BLIND_FEATURE);
      }
      for (int above = 0; above < r; above++) {
        if (!inside(above, r) && !inside(r, above) && disputed(above, r)) {
          kinds.add(Kind.ORDER_MATTERS);
        }
      }
      Rule rule = rules.get(r);
      BitSet residue = residue(r);
      boolean passes = rule.then().verdict().passes();
      if (passes
          && open(rule) >= 2
          && residue.stream().anyMatch(p -> outcome(r, p).verdict().passes())) {
        kinds.add(Kind.TOO_WIDE);
      }
      Field apps = rule.match().fields().get(FieldName.APPLICATIONS);
      boolean guarded =
          claims.get(r).stream().anyMatch(p -> isOutside(p) && stops(outcome(r, p)))
              || (apps != null && apps.sense() == Field.Sense.IS);
      for (int p = residue.nextSetBit(0); p >= 0; p = residue.nextSetBit(p + 1)) {
        Connection c = plane.connection(p);
        boolean to = isOutside(p);
        // No rule of the web world asks where from, so what it says of one place it says of all.
        boolean from = plane.world == WebWorld.WORLD || c.from().place().zone().equals("Outside");
        if (!outcome(r, p).verdict().passes()) {
          if (!kinds.contains(Kind.LEAKS_FIRST) && leaks(p)) {
            kinds.add(Kind.LEAKS_FIRST);
          }
        } else {
          if (to && !guarded) {
            kinds.add(Kind.NO_LIMITS);
          }
          if (to || from) {
            kinds.add(Kind.UNLOGGED);
          }
        }
      }
      return kinds;
    }

    private Optional<UsageSheet> sheet(Rule rule) {
      return rulebase.parts().sheets().stream()
          .filter(sheet -> rule.then().sheet().equals(Optional.of(sheet.name())))
          .findFirst();
    }

    private boolean isOutside(int point) {
      return plane.connection(point).to().zone().equals("Outside");
    }

    private static boolean stops(Outcome outcome) {
      return outcome.verdict() != Verdict.ALLOW;
    }

    private int open(Rule rule) {
      Set<FieldName> set = new HashSet<>(rule.match().fields().keySet());
      if (sheet(rule).isPresent() && !sheet(rule).get().otherwise().verdict().passes()) {
        set.add(FieldName.APPLICATIONS);
      }
      int open = 0;
      for (List<FieldName> part :
          List.of(
              List.of(
                  FieldName.FROM_ZONES,
                  FieldName.FROM_NETWORKS,
                  FieldName.PEOPLE,
                  FieldName.DEVICES),
              List.of(FieldName.TO_ZONES, FieldName.TO_NETWORKS, FieldName.TO_SITES),
              List.of(FieldName.SERVICES, FieldName.APPLICATIONS))) {
        open += part.stream().noneMatch(set::contains) ? 1 : 0;
      }
      return open;
    }

    private boolean disputed(int one, int other) {
      BitSet common = (BitSet) claims.get(one).clone();
      common.and(claims.get(other));
      return common.stream().anyMatch(p -> !alike(one, other, p));
    }

    /** Whether, at the first packet, something else than what comes of it is still possible. */
    private boolean leaks(int point) {
      return leaking.computeIfAbsent(plane.first[point], this::leaksFirst);
    }

    private boolean leaksFirst(int first) {
      BitSet possible = plane.alikeAtFirst.get(first);
      Set<Verdict> verdicts = new HashSet<>();
      for (int r = 0; r < rules.size(); r++) {
        BitSet claimed = (BitSet) possible.clone();
        claimed.and(claims.get(r));
        int rule = r;
        claimed.stream().forEach(p -> verdicts.add(outcome(rule, p).verdict()));
        if (claimed.equals(possible)) {
          return verdicts.size() > 1;
        }
      }
      verdicts.add(rulebase.defaultVerdict());
      return verdicts.size() > 1;
    }

    private Set<Kind> whoTakes(int r) {
      BitSet claim = claims.get(r);
      if (claim.isEmpty()) {
        return unseen.get(r).isEmpty() ? Set.of(Kind.EMPTY) : Set.of();
      }
      Set<Kind> kinds = new TreeSet<>();
      if (residue(r).isEmpty()) {
        kinds.add(otherwise(r).isEmpty() ? Kind.REDUNDANT : Kind.SHADOWED);
        return kinds;
      }
      Set<Integer> otherwise = otherwise(r).keySet();
      if (!otherwise.isEmpty()) {
        kinds.add(Kind.PARTLY_SHADOWED);
      }
      if (otherwise.stream().anyMatch(t -> inside(t, r))) {
        kinds.add(Kind.EXCEPTION);
      }
      if (residue(r).stream().allMatch(p -> outcome(below(p, r), p).equals(outcome(r, p)))) {
        kinds.add(Kind.REDUNDANT);
      }
      return kinds;
    }

    /** What of a claim gets another verdict from the rule that catches it, by that rule. */
    Map<Integer, BitSet> otherwise(int r) {
      Map<Integer, BitSet> otherwise = new TreeMap<>();
      BitSet claim = claims.get(r);
      for (int p = claim.nextSetBit(0); p >= 0; p = claim.nextSetBit(p + 1)) {
        if (catcher[p] != r && !alike(catcher[p], r, p)) {
          otherwise.computeIfAbsent(catcher[p], taker -> new BitSet()).set(p);
        }
      }
      return otherwise;
    }

    /** What of a claim is left by those rules above that a mask names, where they decide alike. */
    private BitSet leftByAlike(int r, int mask) {
      BitSet left = (BitSet) claims.get(r).clone();
      for (int above = 0; above < r; above++) {
        if ((mask >> above & 1) == 1) {
          BitSet common = (BitSet) claims.get(above).clone();
          common.and(left);
          for (int p = common.nextSetBit(0); p >= 0; p = common.nextSetBit(p + 1)) {
            if (alike(above, r, p)) {
              left.clear(p);
            }
          }
        }
      }
      return left;
    }

    private boolean inside(int inner, int outer) {
      BitSet rest = (BitSet) claims.get(inner).clone();
      rest.andNot(claims.get(outer));
      return rest.isEmpty();
    }

    private int below(int point, int r) {
      for (int b = r + 1; b < rules.size(); b++) {
        if (claims.get(b).get(point)) {
          return b;
        }
      }
      return -1;
    }

    String idBelow(int point, int r) {
      int below = below(point, r);
      return below < 0 ? "" : rules.get(below).id();
    }

    BitSet residue(int r) {
      return caught(r, r);
    }

    Set<Integer> takers(int r) {
      return claims.get(r).stream()
          .map(p -> catcher[p])
          .filter(t -> t != r)
          .boxed()
          .collect(Collectors.toSet());
    }

    BitSet caught(int r, int by) {
      BitSet points = new BitSet();
      BitSet claim = claims.get(r);
      for (int p = claim.nextSetBit(0); p >= 0; p = claim.nextSetBit(p + 1)) {
        if (catcher[p] == by) {
          points.set(p);
        }
      }
      return points;
    }

    /** The mean over IP versions of the weight of the points in the claim's weight. */
    double share(int r, BitSet points) {
      double[] whole = weights(claims.get(r));
      double[] part = weights(points);
      return IntStream.range(0, whole.length)
          .filter(v -> whole[v] > 0)
          .mapToDouble(v -> part[v] / whole[v])
          .average()
          .orElse(0);
    }

    private double[] weights(BitSet points) {
      double[] sums = new double[Address.Version.values().length];
      for (int p = points.nextSetBit(0); p >= 0; p = points.nextSetBit(p + 1)) {
        sums[plane.versions[p]] += plane.weights[p];
      }
      return sums;
    }

    /**
     * How many of those rules that catch some of a claim it takes; 2³¹−1 if they do not suffice.
     */
    int smallestCover(int r, boolean alikeOnly) {
      int smallest = Integer.MAX_VALUE;
      int catching = takers(r).stream().mapToInt(taker -> 1 << taker).sum();
      for (int mask = 1; mask < 1 << r; mask++) {
        if ((mask & ~catching) == 0
            && Integer.bitCount(mask) < smallest
            && leftBy(r, mask, alikeOnly).isEmpty()) {
          smallest = Integer.bitCount(mask);
        }
      }
      return smallest;
    }

    private BitSet leftBy(int r, int mask, boolean alikeOnly) {
      if (alikeOnly) {
        return leftByAlike(r, mask);
      }
      BitSet left = (BitSet) claims.get(r).clone();
      for (int above = 0; above < r; above++) {
        if ((mask >> above & 1) == 1) {
          left.andNot(claims.get(above));
        }
      }
      return left;
    }
  }

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(7);
  }

  @Property(tries = 2000)
  void findingsAndResiduesAreWhatEnumerationSays(@ForAll("cases") Rulebases.Case given) {
    Enumerated truth = new Enumerated(given);
    Review review = review(given, Budget.USUAL);
    for (int r = 0; r < truth.rules.size(); r++) {
      String id = truth.rules.get(r).id();
      Set<Kind> said =
          review.of(id).stream().map(Finding::kind).collect(Collectors.toCollection(TreeSet::new));
      assertThat(said).as(id).isEqualTo(truth.kinds(r));
      Residue residue = review.residue(id);
      if (!truth.claims.get(r).isEmpty()) {
        assertThat(residue.share().value())
            .as(id)
            .isCloseTo(truth.share(r, truth.residue(r)), within(1e-9));
        assertThat(residue.takers()).as(id).hasSize(truth.takers(r).size());
        for (Residue.Taker taker : residue.takers()) {
          int by = index(truth, taker.rule());
          assertThat(taker.share().value())
              .isCloseTo(truth.share(r, truth.caught(r, by)), within(1e-9));
        }
      }
    }
  }

  @Property(tries = 700)
  void coversAreSmallestAndWitnessesProveThem(@ForAll("cases") Rulebases.Case given) {
    Enumerated truth = new Enumerated(given);
    Review review = review(given, Budget.USUAL);
    Decider decider = decider(given);
    for (Finding finding : review.findings()) {
      int r = index(truth, finding.rule());
      boolean covered = truth.residue(r).isEmpty();
      boolean about = finding.kind() == Kind.SHADOWED || finding.kind() == Kind.REDUNDANT;
      if (covered && about) {
        int smallest = truth.smallestCover(r, finding.kind() == Kind.REDUNDANT);
        assertThat(smallest).isLessThan(Integer.MAX_VALUE);
        assertThat(covering(finding)).hasSize(smallest);
        assertThat(review.sentence(finding)).doesNotContain("not proven");
        assertThat(otherwise(finding).keySet()).isEqualTo(ids(truth, truth.otherwise(r).keySet()));
        otherwise(finding)
            .forEach(
                (taker, share) ->
                    assertThat(share.value())
                        .isCloseTo(
                            truth.share(r, truth.otherwise(r).get(index(truth, taker))),
                            within(1e-9)));
      }
      for (Finding.Evidence evidence : finding.evidence()) {
        Connection connection = evidence.witness().connection();
        assertThat(decider.decide(connection).map(Rule::id))
            .isEqualTo(evidence.witness().caughtBy());
        if (finding.kind() != Kind.BLIND_FEATURE) {
          assertThat(truth.twin.claims(truth.rules.get(r), connection)).isTrue();
        }
        // It lies in the words it stands under, which are fields of the rule it stands under.
        if (!evidence.rule().isEmpty()) {
          Rule other = truth.rules.get(index(truth, evidence.rule()));
          assertThat(truth.twin.claims(other, connection)).as(evidence.part()).isTrue();
        }
        if (!covered && finding.kind() == Kind.REDUNDANT) {
          int point =
              truth.plane.points.stream().map(Point::connection).toList().indexOf(connection);
          assertThat(point < 0 ? evidence.rule() : truth.idBelow(point, r))
              .isEqualTo(evidence.rule());
        }
        if (evidence.otherwise().isPresent()) {
          assertThat(decider.outcome(connection))
              .isNotEqualTo(truth.twin.outcome(truth.rules.get(r), connection));
        }
        if (covered && about) {
          assertThat(evidence.witness().caughtBy()).contains(evidence.rule());
        }
        if (finding.kind() == Kind.PARTLY_SHADOWED) {
          assertThat(evidence.witness().caughtBy()).contains(evidence.rule());
          assertThat(decider.outcome(connection))
              .isNotEqualTo(truth.twin.outcome(truth.rules.get(r), connection));
        }
      }
    }
    review.residues().values().stream()
        .flatMap(residue -> residue.witness().stream())
        .forEach(
            witness ->
                assertThat(decider.decide(witness.connection()).map(Rule::id))
                    .isEqualTo(witness.caughtBy()));
  }

  @Property(tries = 500)
  void withoutBudgetFindingsAreSaidUndeterminedOrStayRight(@ForAll("cases") Rulebases.Case given) {
    Enumerated truth = new Enumerated(given);
    Review review = review(given, new Budget(1, 60, 50, 128, 512));
    for (int r = 0; r < truth.rules.size(); r++) {
      Set<Kind> said = new HashSet<>();
      review.of(truth.rules.get(r).id()).forEach(finding -> said.add(finding.kind()));
      if (said.remove(Kind.UNDETERMINED)) {
        // What it says before it gives up is true.
        assertThat(truth.kinds(r)).containsAll(said);
      } else {
        assertThat(said).isEqualTo(truth.kinds(r));
      }
    }
  }

  @Property(tries = 500)
  void takingOutARedundantRuleChangesNoOutcome(@ForAll("cases") Rulebases.Case given) {
    Rulebase rulebase = given.rulebase();
    List<Point> points = PLANES.get(given.world()).points;
    Review review = review(given, Budget.USUAL);
    Decider before = decider(given);
    review.findings().stream()
        .filter(finding -> finding.kind() == Kind.REDUNDANT)
        .limit(1)
        .forEach(
            finding -> {
              List<Rule> rest =
                  rulebase.rules().stream()
                      .filter(rule -> !rule.id().equals(finding.rule()))
                      .toList();
              Rulebase without =
                  new Rulebase(
                      "without",
                      List.of(new Chapter("c", "All", "", rest)),
                      rulebase.parts(),
                      rulebase.defaultVerdict());
              Decider after = decider(new Rulebases.Case(given.world(), without));
              for (int p = 0; p < points.size(); p += 7) {
                Connection connection = points.get(p).connection();
                assertThat(after.outcome(connection)).isEqualTo(before.outcome(connection));
              }
            });
  }

  /** The rules that the first rules named in a finding's sentence are. */
  private static List<String> covering(Finding finding) {
    return finding.said().parts().stream()
        .filter(Message.Part.Rules.class::isInstance)
        .map(part -> ((Message.Part.Rules) part).ids())
        .findFirst()
        .orElseThrow();
  }

  private static Map<String, Share> otherwise(Finding finding) {
    Map<String, Share> otherwise = new TreeMap<>();
    finding
        .evidence()
        .forEach(one -> one.otherwise().ifPresent(share -> otherwise.put(one.rule(), share)));
    return otherwise;
  }

  private static Set<String> ids(Enumerated truth, Set<Integer> rules) {
    return rules.stream().map(r -> truth.rules.get(r).id()).collect(Collectors.toSet());
  }

  private static int index(Enumerated truth, String id) {
    return truth.rules.stream().map(Rule::id).toList().indexOf(id);
  }

  private static Review review(Rulebases.Case given, Budget budget) {
    return Reviewer.review(compiled(given), budget);
  }

  private static Decider decider(Rulebases.Case given) {
    return new Decider(compiled(given));
  }

  private static CompiledRulebase compiled(Rulebases.Case given) {
    return CompiledRulebase.of(given.rulebase(), given.world().environment());
  }
}
