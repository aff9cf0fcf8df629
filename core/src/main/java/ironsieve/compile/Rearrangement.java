package ironsieve.compile;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * Where the bits of a row go when boxes are numbered anew. Only words in a window change, so that a
 * row with nothing in them can be shared.
 */
final class Rearrangement {

  private final int from;
  private final int to;
  private final List<Run> runs;
  private final int marksBefore;
  private final int marks;

  /** Neighbours that stay neighbours: so many bits from one place go to another. */
  private record Run(int from, int to, int length) {}

  /**
   * A rearrangement.
   *
   * @param origins for each new number the old one, or −1 if it is new
   * @param before how many old numbers there were
   */
  Rearrangement(int[] origins, int before) {
    marksBefore = SparseRow.marks(before);
    marks = SparseRow.marks(origins.length);
    int first = 0;
    while (first < origins.length && origins[first] == first) {
      first++;
    }
    int last = Math.max(before, origins.length);
    // With fewer or more boxes than before all from the first that moved on moves.
    while (before == origins.length && last > first && origins[last - 1] == last - 1) {
      last--;
    }
    from = first >> 6;
    to = (last + 63) >> 6;
    runs = inWindow(runs(origins));
  }

  private static List<Run> runs(int[] origins) {
    List<Run> runs = new ArrayList<>();
    int start = 0;
    for (int b = 1; b <= origins.length; b++) {
      boolean goesOn =
          b < origins.length && origins[b - 1] >= 0 && origins[b] == origins[b - 1] + 1;
      if (!goesOn) {
        if (origins[start] >= 0) {
          runs.add(new Run(origins[start], start, b - start));
        }
        start = b;
      }
    }
    return runs;
  }

  private List<Run> inWindow(List<Run> all) {
    List<Run> inside = new ArrayList<>();
    for (Run run : all) {
      int start = Math.max(run.to(), from << 6);
      int end = Math.min(run.to() + run.length(), to << 6);
      if (start < end) {
        inside.add(new Run(run.from() + start - run.to(), start, end - start));
      }
    }
    return inside;
  }

  /**
   * A row after it; the same row if nothing of it moves.
   *
   * @param making of as many marks as there are now
   */
  long[] of(long[] row, SparseRow.Making making) {
    if (marks == marksBefore && SparseRow.isClear(row, marks, from, to)) {
      return row;
    }
    // The words before, then the runs as they follow each other, then the words behind.
    int next = 0;
    int[] numbers = new int[row.length - marksBefore];
    for (int m = 0; m < marksBefore; m++) {
      for (long mark = row[m]; mark != 0; mark &= mark - 1) {
        numbers[next++] = (m << 6) + Long.numberOfTrailingZeros(mark);
      }
    }
    int behind = 0;
    while (behind < next && numbers[behind] < from) {
      making.or(numbers[behind], row[marksBefore + behind]);
      behind++;
    }
    for (Run run : runs) {
      move(run, numbers, row, making);
    }
    for (int i = behind; i < next; i++) {
      if (numbers[i] >= to) {
        making.or(numbers[i], row[marksBefore + i]);
      }
    }
    return making.row();
  }

  private void move(Run run, int[] numbers, long[] row, SparseRow.Making making) {
    int end = run.from() + run.length();
    int found = Arrays.binarySearch(numbers, run.from() >> 6);
    for (int i = found < 0 ? -found - 1 : found; i < numbers.length; i++) {
      int low = numbers[i] << 6;
      if (low >= end) {
        return;
      }
      long bits = row[marksBefore + i];
      bits &= low < run.from() ? -1L << run.from() : -1L;
      bits &= end - low < 64 ? (1L << end) - 1 : -1L;
      int start = low + run.to() - run.from();
      making.or(start >> 6, bits << start);
      if ((start & 63) != 0) {
        making.or((start >> 6) + 1, bits >>> -start);
      }
    }
  }
}
