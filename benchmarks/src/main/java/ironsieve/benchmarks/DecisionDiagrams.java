package ironsieve.benchmarks;

import com.github.javabdd.BDD;
import com.github.javabdd.BDDFactory;
import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Space;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The same question by binary decision diagrams over the same atoms: each dimension is as many
 * variables as its atoms' numbers have bits, in the order of the dimensions, and a rule is
 * unreached where its claim without all claims above it is the empty diagram.
 */
final class DecisionDiagrams implements AutoCloseable {

  private static final int NODES = 2_000_000;

  private final BDDFactory factory;
  private final int[] first = new int[Space.DIMENSIONS];
  private final int[] bits = new int[Space.DIMENSIONS];
  private final List<Map<IndexSet, BDD>> known = new ArrayList<>();

  DecisionDiagrams(Space space) {
    int variables = 0;
    for (int d = 0; d < Space.DIMENSIONS; d++) {
      first[d] = variables;
      bits[d] = Math.max(1, 32 - Integer.numberOfLeadingZeros(space.weights()[d].count() - 1));
      variables += bits[d];
      known.add(new HashMap<>());
    }
    factory = BDDFactory.init("java", NODES, NODES / 4);
    factory.setVarNum(variables);
  }

  /**
   * For each rule that takes part, from the top, whether nothing reaches it from today on; nothing
   * if that takes longer than so many nanoseconds.
   */
  Optional<List<Boolean>> unreached(CompiledRulebase compiled, long patience) {
    long begun = System.nanoTime();
    List<Boolean> unreached = new ArrayList<>();
    BDD open = factory.zero();
    for (Box box : compiled.space().ahead()) {
      open.orWith(diagram(box));
    }
    for (CompiledRule rule : compiled.rules()) {
      if (System.nanoTime() - begun > patience) {
        return Optional.empty();
      }
      BDD claim = factory.zero();
      for (Box box : rule.boxes()) {
        claim.orWith(diagram(box));
      }
      BDD reaching = claim.and(open);
      unreached.add(reaching.isZero());
      open.applyWith(claim, BDDFactory.diff);
      reaching.free();
    }
    open.free();
    return Optional.of(unreached);
  }

  private BDD diagram(Box box) {
    BDD all = factory.one();
    // From the last variables up, so that each step only puts a little on top.
    for (int d = Space.DIMENSIONS - 1; d >= 0; d--) {
      int dimension = d;
      all.andWith(known.get(d).computeIfAbsent(box.side(d), side -> diagram(dimension, side)).id());
    }
    return all;
  }

  private BDD diagram(int dimension, IndexSet side) {
    return diagram(dimension, side, 0, 0);
  }

  /** What of a side lies among the atoms whose first bits are these. */
  private BDD diagram(int dimension, IndexSet side, int depth, int prefix) {
    int width = bits[dimension] - depth;
    int low = prefix << width;
    int next = side.next(low);
    if (next < 0 || next >= low + (1 << width)) {
      return factory.zero();
    }
    if (width == 0) {
      return factory.one();
    }
    BDD zero = diagram(dimension, side, depth + 1, prefix << 1);
    BDD one = diagram(dimension, side, depth + 1, prefix << 1 | 1);
    BDD variable = factory.ithVar(first[dimension] + depth);
    BDD both = variable.ite(one, zero);
    zero.free();
    one.free();
    variable.free();
    return both;
  }

  @Override
  public void close() {
    factory.done();
  }
}
