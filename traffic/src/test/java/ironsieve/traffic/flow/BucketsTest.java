package ironsieve.traffic.flow;

import static org.assertj.core.api.Assertions.assertThat;

import java.lang.reflect.Field;
import java.lang.reflect.Method;
import java.util.HashMap;
import java.util.Map;
import java.util.function.LongUnaryOperator;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Whoever sends packets cannot choose ends that make the table of flows slow. */
class BucketsTest {

  private static final int FLOWS = 1 << 16;

  /** Ends that meet in one bucket if the two are only added up, or only turned round. */
  enum Ends {
    COMPLEMENT(source -> ~source),
    SAME(source -> source),
    NEGATIVE(source -> -source),
    NEXT(source -> source + 1),
    FIXED_SUM(source -> 1_000_000_007L - source);

    private final LongUnaryOperator target;

    Ends(LongUnaryOperator target) {
      this.target = target;
    }
  }

  @ParameterizedTest
  @EnumSource
  void chosenEndsAreSpreadLikeAnyOthers(Ends ends) throws ReflectiveOperationException {
    FlowTable<Object> table = new FlowTable<>(null, FLOWS);
    Method hash = FlowTable.class.getDeclaredMethod("hash", int.class, int.class);
    hash.setAccessible(true);
    Map<Integer, Integer> buckets = new HashMap<>();
    for (int i = 0; i < FLOWS; i++) {
      ends(table, i, ends.target.applyAsLong(i));
      int bucket = (int) hash.invoke(table, 443, 443) & FLOWS - 1;
      buckets.merge(bucket, 1, Integer::sum);
    }
    // As many flows as buckets: the fullest of random ones has about eight.
    assertThat(buckets.values()).allMatch(count -> count <= 16);
    assertThat(buckets.size()).isGreaterThan(FLOWS / 2);
  }

  private static void ends(FlowTable<Object> table, long source, long target)
      throws ReflectiveOperationException {
    Field packet = FlowTable.class.getDeclaredField("ip");
    packet.setAccessible(true);
    Object ip = packet.get(table);
    set(ip, "sourceLow", source);
    set(ip, "targetLow", target);
  }

  private static void set(Object packet, String name, long value)
      throws ReflectiveOperationException {
    Field field = packet.getClass().getDeclaredField(name);
    field.setAccessible(true);
    field.setLong(packet, value);
  }
}
