package ironsieve.traffic.view;

import ironsieve.recorded.Minutes;
import ironsieve.recorded.TapeColumns;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.function.Function;

/** A narrowing as it is asked of lines. */
final class NarrowingFilters implements Scan.Filters {
  private final List<TapeColumns> tapes;
  private final StepsOfTime time;
  private final List<By> kinds;
  private final List<Set<String>> wanted;
  private final List<int[]> conversations = new ArrayList<>();
  private final List<List<Labels>> labels;
  private final int[] codes;
  private final int from;
  private final int to;

  /**
   * What a narrowing keeps out.
   *
   * @param labelsOf the labels of each tape
   * @param codeCount how many decisions there are
   * @param ofCode what a decision is called by rule or by verdict
   */
  NarrowingFilters(
      Narrowing narrowing,
      List<TapeColumns> tapes,
      Function<By, List<Labels>> labelsOf,
      int codeCount,
      BiFunction<By, Integer, String> ofCode,
      StepsOfTime time) {
    this.tapes = tapes;
    this.time = time;
    kinds = List.copyOf(narrowing.only().keySet());
    wanted = kinds.stream().map(narrowing.only()::get).toList();
    // Found before several threads go through the lines: who waits for labels would wait for
    // them.
    labels =
        kinds.stream()
            .map(
                by ->
                    by == By.TAPE || TrafficView.isByCode(by)
                        ? List.<Labels>of()
                        : labelsOf.apply(by))
            .toList();
    from = narrowing.from() == null ? Integer.MIN_VALUE : minute(narrowing.from());
    to = narrowing.to() == null ? Integer.MAX_VALUE : minute(narrowing.to());
    codes = new int[codeCount];
    for (int f = 0; f < kinds.size(); f++) {
      for (int code = 0; TrafficView.isByCode(kinds.get(f)) && code < codes.length; code++) {
        codes[code] |= wanted.get(f).contains(ofCode.apply(kinds.get(f), code)) ? 0 : 1 << f;
      }
    }
    for (int t = 0; t < tapes.size(); t++) {
      conversations.add(keptOut(t));
    }
  }

  /** A time that is no whole minute bounds from the next one on. */
  private static int minute(LocalDateTime at) {
    int minute = Minutes.nearest(at);
    return Minutes.time(minute).isBefore(at) ? minute + 1 : minute;
  }

  private int[] keptOut(int tape) {
    int[] out = new int[tapes.get(tape).conversations().count()];
    for (int f = 0; f < kinds.size(); f++) {
      Labels of = labels(f, tape);
      if (of == null) {
        continue;
      }
      Set<String> values = wanted.get(f);
      boolean[] isIn = new boolean[of.keys()];
      for (int key = 0; key < isIn.length; key++) {
        isIn[key] = of.texts(key).stream().anyMatch(values::contains);
      }
      for (int c = 0; c < out.length; c++) {
        out[c] |= isIn[of.key(c)] ? 0 : 1 << f;
      }
    }
    return out;
  }

  @Override
  public int count() {
    return kinds.size();
  }

  @Override
  public int[] keepOut(int tape) {
    return conversations.get(tape);
  }

  @Override
  public int[] keepOutCodes() {
    return codes;
  }

  @Override
  public Labels labels(int filter, int tape) {
    return labels.get(filter).isEmpty() ? null : labels.get(filter).get(tape);
  }

  @Override
  public int keepOutTape(int tape) {
    int at = kinds.indexOf(By.TAPE);
    return at < 0 || wanted.get(at).contains(tapes.get(tape).name()) ? 0 : 1 << at;
  }

  @Override
  public int from() {
    return from;
  }

  @Override
  public int to() {
    return to;
  }

  @Override
  public int step(int minute) {
    return time.step(minute);
  }

  @Override
  public int steps() {
    return time.count();
  }
}
