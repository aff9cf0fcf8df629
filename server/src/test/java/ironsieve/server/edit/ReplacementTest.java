package ironsieve.server.edit;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;

class ReplacementTest {

  /** How many can keep their places at most, tried one by one. */
  private static int most(List<String> order, Map<String, BigDecimal> known) {
    int[] longest = new int[order.size()];
    int most = 0;
    for (int i = 0; i < order.size(); i++) {
      if (known.containsKey(order.get(i))) {
        longest[i] = 1;
        for (int j = 0; j < i; j++) {
          if (known.containsKey(order.get(j))
              && known.get(order.get(j)).compareTo(known.get(order.get(i))) < 0) {
            longest[i] = Math.max(longest[i], longest[j] + 1);
          }
        }
        most = Math.max(most, longest[i]);
      }
    }
    return most;
  }

  @Test
  void placesRiseInTheirOrderAndAsManyAsCanKeepTheirs() {
    Random random = new Random(5);
    for (int round = 0; round < 300; round++) {
      Map<String, BigDecimal> known = new HashMap<>();
      List<String> order = new ArrayList<>();
      for (int i = 0; i < random.nextInt(12); i++) {
        order.add("r" + i);
        if (random.nextInt(4) > 0) {
          known.put("r" + i, BigDecimal.valueOf(i * 10L + random.nextInt(9)));
        }
      }
      if (random.nextBoolean()) {
        Collections.shuffle(order, random);
      }
      Map<String, BigDecimal> places = Replacement.places(order, known);
      assertThat(places.keySet()).containsExactlyInAnyOrderElementsOf(order);
      List<BigDecimal> row = order.stream().map(places::get).toList();
      for (int i = 1; i < row.size(); i++) {
        assertThat(row.get(i)).isGreaterThan(row.get(i - 1));
      }
      long kept = order.stream().filter(id -> places.get(id).equals(known.get(id))).count();
      assertThat(kept).isGreaterThanOrEqualTo(most(order, known));
    }
  }
}
