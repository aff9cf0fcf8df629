package ironsieve.compile;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.Rulebases;
import ironsieve.SmallWorld;
import ironsieve.region.Box;
import ironsieve.region.Region;
import java.util.ArrayList;
import java.util.List;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/** Dropping boxes is dropping each of their points. */
class BoxPropagationTest {

  @Provide
  Arbitrary<Rulebases.Case> cases() {
    return Rulebases.cases(6);
  }

  @Property(tries = 300)
  void thePiecesAreDisjointTogetherTheBoxAndCaughtByTheirFirstBox(
      @ForAll("cases") Rulebases.Case given, @ForAll int seed) {
    CompiledRulebase compiled = CompiledRulebase.of(given.rulebase(), given.world().environment());
    for (Box box : compiled.space().ahead()) {
      List<Box> pieces = new ArrayList<>();
      boolean whole =
          BoxPropagation.through(
              compiled,
              box,
              (piece, caught) -> {
                assertThat(compiled.index().first(piece.point().orElseThrow())).isEqualTo(caught);
                pieces.add(piece);
                return true;
              });
      assertThat(whole).isTrue();
      double sum = pieces.stream().mapToDouble(p -> p.weight(compiled.space().weights())).sum();
      assertThat(sum / box.weight(compiled.space().weights()))
          .isCloseTo(1, org.assertj.core.api.Assertions.within(1e-9));
      assertThat(Region.of(List.of(box)).minus(Region.of(pieces)).isEmpty()).isTrue();
    }
    List<SmallWorld.Point> points = given.world().points();
    int[] point =
        compiled.space().point(points.get(Math.floorMod(seed, points.size())).connection());
    assertThat(compiled.outcome(point))
        .isEqualTo(compiled.outcomeOfBox(compiled.index().first(point)));
  }

  @Property(tries = 50)
  void whoHasEnoughIsGivenNoMore(@ForAll("cases") Rulebases.Case given) {
    CompiledRulebase compiled = CompiledRulebase.of(given.rulebase(), given.world().environment());
    List<Box> taken = new ArrayList<>();
    boolean whole =
        BoxPropagation.through(
            compiled,
            compiled.space().ahead().get(0),
            (piece, caught) -> {
              taken.add(piece);
              return false;
            });
    assertThat(whole).isFalse();
    assertThat(taken).hasSize(1);
  }
}
