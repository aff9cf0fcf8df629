package ironsieve.review;

import ironsieve.region.Box;
import ironsieve.region.Weights;
import java.util.Arrays;
import java.util.List;
import java.util.SplittableRandom;

/**
 * Draws points of a claim by weight, for shares that are too much work to add up. Seeded, so that
 * the same question gets the same answer.
 */
final class Sampler {

  private record Side(int[] atoms, double[] sums) {}

  private final SplittableRandom random;
  private final double[] boxSums;
  private final Side[][] sides;

  /**
   * Samples from disjoint boxes.
   *
   * @param scales what the weight of each box is multiplied by
   */
  Sampler(List<Box> boxes, double[] scales, Weights[] weights, long seed) {
    random = new SplittableRandom(seed);
    boxSums = new double[boxes.size()];
    sides = new Side[boxes.size()][];
    double sum = 0;
    for (int b = 0; b < boxes.size(); b++) {
      sum += boxes.get(b).weight(weights) * scales[b];
      boxSums[b] = sum;
      sides[b] = new Side[boxes.get(b).dimensions()];
      for (int d = 0; d < sides[b].length; d++) {
        sides[b][d] = side(boxes.get(b).side(d).members(), weights[d]);
      }
    }
  }

  private static Side side(int[] atoms, Weights weights) {
    double[] sums = new double[atoms.length];
    double sum = 0;
    for (int i = 0; i < atoms.length; i++) {
      sum += weights.of(atoms[i]);
      sums[i] = sum;
    }
    return new Side(atoms, sums);
  }

  /** One point. */
  int[] next() {
    Side[] box = sides[pick(boxSums)];
    int[] point = new int[box.length];
    for (int d = 0; d < box.length; d++) {
      point[d] = box[d].atoms()[pick(box[d].sums())];
    }
    return point;
  }

  private int pick(double[] sums) {
    double at = random.nextDouble() * sums[sums.length - 1];
    int found = Arrays.binarySearch(sums, at);
    return Math.min(found >= 0 ? found + 1 : -found - 1, sums.length - 1);
  }
}
