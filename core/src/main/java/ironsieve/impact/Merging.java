package ironsieve.impact;

import ironsieve.region.Box;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Makes few boxes of many: two disjoint boxes that differ in one dimension only are one box with
 * the union there. Each dimension is gone through until nothing changes; every round is linear in
 * the number of boxes.
 */
public final class Merging {

  private Merging() {}

  /** Disjoint boxes with the same points. */
  public static List<Box> merged(List<Box> boxes) {
    List<Box> current = boxes;
    int before;
    do {
      before = current.size();
      for (int d = 0; d < dimensions(current); d++) {
        current = along(d, current);
      }
    } while (current.size() < before);
    return current;
  }

  private static int dimensions(List<Box> boxes) {
    return boxes.isEmpty() ? 0 : boxes.get(0).dimensions();
  }

  private static List<Box> along(int dimension, List<Box> boxes) {
    Map<Box, Box> byRest = new HashMap<>();
    List<Box> order = new ArrayList<>();
    for (Box box : boxes) {
      Box rest = box.with(dimension, ironsieve.region.IndexSet.EMPTY);
      Box known = byRest.get(rest);
      if (known == null) {
        order.add(rest);
      }
      byRest.put(
          rest,
          known == null
              ? box
              : known.with(dimension, known.side(dimension).union(box.side(dimension))));
    }
    return order.stream().map(byRest::get).toList();
  }
}
