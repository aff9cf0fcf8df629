package ironsieve.benchmarks;

import ironsieve.compile.BoxIndex;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** Points as recorded traffic is decided: as many at once as the index takes, in one array. */
record Batches(List<int[]> atoms, List<int[]> found) {

  static Batches of(List<int[]> points) {
    Batches batches = new Batches(new ArrayList<>(), new ArrayList<>());
    for (int begin = 0; begin < points.size(); begin += BoxIndex.MOST_AT_ONCE) {
      List<int[]> some =
          points.subList(begin, Math.min(points.size(), begin + BoxIndex.MOST_AT_ONCE));
      batches.atoms.add(some.stream().flatMapToInt(Arrays::stream).toArray());
      batches.found.add(new int[some.size()]);
    }
    return batches;
  }

  /** Decides all of them; the sum of the boxes found, so that the work is of use. */
  long decided(BoxIndex index) {
    long sum = 0;
    for (int i = 0; i < atoms.size(); i++) {
      int[] boxes = found.get(i);
      index.first(atoms.get(i), boxes.length, 0, boxes);
      sum += boxes[0];
    }
    return sum;
  }
}
