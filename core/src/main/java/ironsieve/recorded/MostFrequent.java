package ironsieve.recorded;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.PriorityQueue;

/** The lines seen most often of many; of those seen equally often the first. */
public final class MostFrequent {

  private static final Comparator<One> ORDER =
      Comparator.comparingLong(One::times)
          .reversed()
          .thenComparingInt(One::tape)
          .thenComparingInt(One::block)
          .thenComparingInt(One::line);

  private final int most;
  private final PriorityQueue<One> kept = new PriorityQueue<>(ORDER.reversed());

  /** A line of a block of a tape. */
  public record One(long times, int tape, int block, int line) {}

  /** So many of them. */
  public MostFrequent(int most) {
    this.most = most;
  }

  /** Lines are offered in their order. */
  public void offer(long times, int tape, int block, int line) {
    if (kept.size() < most) {
      kept.add(new One(times, tape, block, line));
    } else if (most > 0 && times > kept.peek().times()) {
      kept.poll();
      kept.add(new One(times, tape, block, line));
    }
  }

  /** Those that were kept, the most frequent first. */
  public List<One> inOrder() {
    List<One> all = new ArrayList<>(kept);
    all.sort(ORDER);
    return all;
  }
}
