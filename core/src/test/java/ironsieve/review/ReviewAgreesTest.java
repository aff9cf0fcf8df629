package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.SmallWorld.Point;
import ironsieve.Twin;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.decide.Decider;
import ironsieve.model.Connection;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Verdict;
import ironsieve.region.Address;
import ironsieve.review.Finding.Kind;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.function.ToIntFunction;
import java.util.stream.Collectors;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/** Every finding, residue and witness is held against plain enumeration of all connections. */
class ReviewAgreesTest {

  private static final List<SmallWorld.Point> AHEAD =
      SmallWorld.points().stream().filter(SmallWorld.Point::ahead).toList();

  /** What enumeration says of one rulebase. */
  private static final class Enumerated {
    final List<Rule> rules;
    final Rulebase rulebase;
    final List<BitSet> claims = new ArrayList<>();
    final int[] catcher = new int[AHEAD.size()];

    Enumerated(Rulebase rulebase) {
      this.rulebase = rulebase;
      rules = rulebase.rules().stream().filter(Rule::isOn).toList();
      Twin twin = new Twin(rulebase, SmallWorld.surroundings());
      Arrays.fill(catcher, -1);
      for (int r = 0; r < rules.size(); r++) {
        BitSet claim = claim(twin, rules.get(r));
        for (int p = claim.nextSetBit(0); p >= 0; p = claim.nextSetBit(p + 1)) {
          if (catcher[p] < 0) {
            catcher[p] = r;
          }
        }
        claims.add(claim);
      }
    }

    /** All fields must hold, so each is asked once for each coordinate it depends on. */
    private static BitSet claim(Twin twin, Rule rule) {
      BitSet claim = new BitSet();
      claim.set(0, AHEAD.size());
      for (FieldName name : rule.match().fields().keySet()) {
        int d = Dimension.of(name).ordinal();
        keep(claim, p -> p.coordinates()[d], p -> twin.holds(rule, name, p.connection()));
      }
      if (rule.match().ports() == Rule.Ports.USUAL) {
        int s = Dimension.SERVICE.ordinal();
        int u = Dimension.USING.ordinal();
        keep(
            claim,
            p -> p.coordinates()[s] * 64 + p.coordinates()[u],
            p -> twin.usual(p.connection()));
      }
      return claim;
    }

    private static void keep(
        BitSet claim, ToIntFunction<Point> coordinate, Predicate<Point> holds) {
      int[] known = new int[1024];
      for (int p = claim.nextSetBit(0); p >= 0; p = claim.nextSetBit(p + 1)) {
        int at = coordinate.applyAsInt(AHEAD.get(p));
        if (known[at] == 0) {
          known[at] = holds.test(AHEAD.get(p)) ? 1 : 2;
        }
        if (known[at] == 2) {
          claim.clear(p);
        }
      }
    }

    Verdict verdict(int rule) {
      return rule < 0 ? rulebase.lastLine() : rules.get(rule).then().verdict();
    }

    boolean alike(int one, int other) {
      return verdict(one) == verdict(other);
    }

    Set<Kind> kinds(int r) {
      BitSet claim = claims.get(r);
      if (claim.isEmpty()) {
        return Set.of(Kind.EMPTY);
      }
      Set<Kind> kinds = new TreeSet<>();
      if (residue(r).isEmpty()) {
        BitSet left = (BitSet) claim.clone();
        for (int above = 0; above < r; above++) {
          if (alike(above, r)) {
            left.andNot(claims.get(above));
          }
        }
        kinds.add(left.isEmpty() ? Kind.REDUNDANT : Kind.SHADOWED);
        return kinds;
      }
      Set<Integer> otherwise =
          takers(r).stream().filter(t -> !alike(t, r)).collect(Collectors.toSet());
      if (!otherwise.isEmpty()) {
        kinds.add(Kind.PARTLY_SHADOWED);
      }
      if (otherwise.stream().anyMatch(t -> inside(t, r))) {
        kinds.add(Kind.EXCEPTION);
      }
      if (residue(r).stream().allMatch(p -> verdict(below(p, r)) == verdict(r))) {
        kinds.add(Kind.REDUNDANT);
      }
      return kinds;
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
      Map<Address.Version, Double> whole = new HashMap<>();
      Map<Address.Version, Double> part = new HashMap<>();
      claims.get(r).stream()
          .forEach(p -> whole.merge(version(p), AHEAD.get(p).weight(), Double::sum));
      points.stream().forEach(p -> part.merge(version(p), AHEAD.get(p).weight(), Double::sum));
      return whole.keySet().stream()
          .mapToDouble(v -> part.getOrDefault(v, 0.0) / whole.get(v))
          .average()
          .orElse(0);
    }

    private static double weight(BitSet points, Address.Version version) {
      double sum = 0;
      for (int p = points.nextSetBit(0); p >= 0; p = points.nextSetBit(p + 1)) {
        sum += version(p) == version ? AHEAD.get(p).weight() : 0;
      }
      return sum;
    }

    private static Address.Version version(int p) {
      return AHEAD.get(p).connection().to().address().version();
    }

    int smallestCover(int r, boolean alikeOnly) {
      List<Integer> able = new ArrayList<>();
      for (int above = 0; above < r; above++) {
        if (!alikeOnly || alike(above, r)) {
          able.add(above);
        }
      }
      int smallest = Integer.MAX_VALUE;
      for (int mask = 1; mask < 1 << able.size(); mask++) {
        BitSet left = (BitSet) claims.get(r).clone();
        for (int i = 0; i < able.size(); i++) {
          if ((mask >> i & 1) == 1) {
            left.andNot(claims.get(able.get(i)));
          }
        }
        if (left.isEmpty()) {
          smallest = Math.min(smallest, Integer.bitCount(mask));
        }
      }
      return smallest;
    }
  }

  @Provide
  Arbitrary<Rulebase> rulebases() {
    return Rulebases.random(7);
  }

  @Property(tries = 2000)
  void findingsAndResiduesAreWhatEnumerationSays(@ForAll("rulebases") Rulebase rulebase) {
    Enumerated truth = new Enumerated(rulebase);
    Review review = review(rulebase, Budget.USUAL);
    for (int r = 0; r < truth.rules.size(); r++) {
      String id = truth.rules.get(r).id();
      Set<Kind> said =
          review.of(id).stream().map(Finding::kind).collect(Collectors.toCollection(TreeSet::new));
      assertThat(said).as(id).isEqualTo(truth.kinds(r));
      Residue residue = review.residues().get(id);
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
  void coversAreSmallestAndWitnessesProveThem(@ForAll("rulebases") Rulebase rulebase) {
    Enumerated truth = new Enumerated(rulebase);
    Review review = review(rulebase, Budget.USUAL);
    Decider decider = decider(rulebase);
    Twin twin = new Twin(rulebase, SmallWorld.surroundings());
    for (Finding finding : review.findings()) {
      int r = index(truth, finding.rule());
      boolean covered = truth.residue(r).isEmpty();
      if (covered && finding.kind() != Kind.EMPTY) {
        assertThat(finding.evidence())
            .hasSize(truth.smallestCover(r, finding.kind() == Kind.REDUNDANT));
      }
      for (Finding.Evidence evidence : finding.evidence()) {
        Connection connection = evidence.witness().connection();
        assertThat(decider.decide(connection).map(Rule::id))
            .isEqualTo(evidence.witness().caughtBy());
        assertThat(twin.claims(truth.rules.get(r), connection)).isTrue();
        if (covered) {
          assertThat(evidence.witness().caughtBy())
              .isPresent()
              .isNotEqualTo(java.util.Optional.of(finding.rule()));
        }
        if (finding.kind() == Kind.PARTLY_SHADOWED) {
          assertThat(evidence.witness().caughtBy()).contains(evidence.rule());
          assertThat(decider.verdict(connection)).isNotEqualTo(truth.verdict(r));
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
  void withoutBudgetFindingsAreSaidUndeterminedOrStayRight(@ForAll("rulebases") Rulebase rulebase) {
    Enumerated truth = new Enumerated(rulebase);
    Review review = review(rulebase, new Budget(1, 60, 50));
    for (int r = 0; r < truth.rules.size(); r++) {
      Set<Kind> said = new HashSet<>();
      review.of(truth.rules.get(r).id()).forEach(finding -> said.add(finding.kind()));
      if (!said.contains(Kind.UNDETERMINED)) {
        assertThat(said).isEqualTo(truth.kinds(r));
      }
    }
  }

  @Property(tries = 500)
  void takingOutARedundantRuleChangesNoVerdict(@ForAll("rulebases") Rulebase rulebase) {
    Review review = review(rulebase, Budget.USUAL);
    Decider before = decider(rulebase);
    review.findings().stream()
        .filter(finding -> finding.kind() == Kind.REDUNDANT)
        .limit(1)
        .forEach(
            finding -> {
              List<Rule> rest =
                  rulebase.rules().stream()
                      .filter(rule -> !rule.id().equals(finding.rule()))
                      .toList();
              Decider after = decider(Rulebases.of(rest, rulebase.lastLine()));
              for (int p = 0; p < AHEAD.size(); p += 7) {
                Connection connection = AHEAD.get(p).connection();
                assertThat(after.verdict(connection)).isEqualTo(before.verdict(connection));
              }
            });
  }

  private static int index(Enumerated truth, String id) {
    return truth.rules.stream().map(Rule::id).toList().indexOf(id);
  }

  private static Review review(Rulebase rulebase, Budget budget) {
    return Reviewer.review(CompiledRulebase.of(rulebase, SmallWorld.surroundings()), budget);
  }

  private static Decider decider(Rulebase rulebase) {
    return new Decider(CompiledRulebase.of(rulebase, SmallWorld.surroundings()));
  }
}
