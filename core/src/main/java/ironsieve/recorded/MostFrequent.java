package ironsieve.recorded;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.PriorityQueue;

/** The lines seen most often of many; of those seen equally often the first. */
final class MostFrequent {

  private static final Comparator<One> ORDER =
      Comparator.comparingLong(One::times)
          .reversed()
          .thenComparingInt(One::tape)
          .thenComparingLong(One::line);

  private final int most;
  private final PriorityQueue<One> kept = new PriorityQueue<>(ORDER.reversed());

  /** A line of a tape. */
  record One(long times, int tape, long line) {}

  MostFrequent(int most) {
    this.most = most;
  }

  /** Lines are offered in their order. */
  void offer(long times, int tape, long line) {
    if (kept.size() < most) {
      kept.add(new One(times, tape, line));
    } else if (most > 0 && times > kept.peek().times()) {
      kept.poll();
      kept.add(new One(times, tape, line));
    }
  }

  List<One> inOrder() {
    List<One> all = new ArrayList<>(kept);
    all.sort(ORDER);
    return all;
  }
}
