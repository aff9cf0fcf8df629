package ironsieve.replay;

import ironsieve.model.Tape;
import ironsieve.recorded.BlockLines;
import ironsieve.recorded.BlockStore;
import ironsieve.recorded.LineBlock;
import ironsieve.recorded.Minutes;
import ironsieve.recorded.RecordedDecisions;
import ironsieve.recorded.RecordedDecisions.Decision;
import ironsieve.recorded.TapeColumns;
import ironsieve.recorded.Traffic;
import ironsieve.text.ProbeText;
import ironsieve.traffic.log.LogRecords;
import ironsieve.traffic.tape.TapeMaker;
import ironsieve.traffic.tape.TrafficRecord;
import ironsieve.traffic.view.By;
import ironsieve.traffic.view.DecisionWords;
import ironsieve.traffic.view.Narrowing;
import ironsieve.traffic.view.Sum;
import ironsieve.traffic.view.TrafficView;
import java.time.ZoneId;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.apache.spark.sql.Row;

/**
 * Records while they are put into columns, and what was added up of those before. Lines beyond a
 * bound are decided before more are added, so a share of any size fits.
 */
final class SumBatch {
  private static final long LINES_AT_ONCE = 2_000_000;
  private static final int EXAMPLES = 3;
  private static final List<By> VIEWS =
      Arrays.stream(By.values()).filter(by -> by != By.TAPE).toList();

  private final Sent.Compiled with;
  private final ZoneId zone;
  private final Sums sums = new Sums();
  private final Set<String> examples = new HashSet<>();
  private BlockStore blocks;
  private TapeMaker maker;

  SumBatch(Sent sent) {
    with = sent.compiled();
    zone = sent.zone();
    begin();
  }

  private void begin() {
    BlockStore next = BlockStore.inMemory();
    blocks = next;
    maker = TapeMaker.inOrder(with.environment(), next::add);
  }

  void read(Reading reading) {
    TrafficRecord record;
    try {
      record = reading.record();
    } catch (LogRecords.FieldException e) {
      unread(e);
      return;
    }
    add(record);
  }

  void add(TrafficRecord record) {
    maker.add(record);
    decideIfMany();
  }

  /** Where records go now; another one once what there was has been decided. */
  TapeMaker maker() {
    return maker;
  }

  /** Where local times are those of the records. */
  ZoneId zone() {
    return zone;
  }

  /** What was added up. */
  Iterator<Row> rows() {
    return sums.rows();
  }

  /** Decides what there is if it is much; then {@link #maker} is another one. */
  void decideIfMany() {
    if (maker.lines() >= LINES_AT_ONCE) {
      decide();
    }
  }

  /** Counts a record that cannot be read. */
  void unread(LogRecords.FieldException e) {
    unread(e.getMessage().substring(0, e.getMessage().indexOf(':')), e.getMessage());
  }

  void unread(String reason, String example) {
    unread(reason, example, 1);
  }

  void unread(String reason, String example, long times) {
    sums.add(List.of(Sums.UNREAD, reason), times, 0, 0);
    if (examples.size() < EXAMPLES && examples.add(example)) {
      sums.add(List.of(Sums.EXAMPLE, reason, example), 1, 0, 0);
    }
  }

  void decide() {
    TapeMaker.Made made = maker.finish();
    if (made.leftOut() > 0) {
      sums.add(List.of(Sums.UNREAD, "addresses behind no zone"), made.leftOut(), 0, 0);
    }
    made.unknown()
        .forEach(
            (name, times) -> sums.add(List.of(Sums.UNREAD, "not known: " + name), times, 0, 0));
    if (made.built().lines() > 0) {
      TapeColumns tape = TapeColumns.of("share", made.built(), blocks.all(), 0);
      Traffic traffic = Traffic.ofColumns(List.of(tape));
      RecordedDecisions decisions = RecordedDecisions.of(with.rulebase(), traffic);
      Optional<RecordedDecisions> before =
          with.against().map(other -> RecordedDecisions.of(other, traffic));
      lines(tape, decisions, before);
      views(new TrafficView(with.environment(), decisions));
    }
    begin();
  }

  private void views(TrafficView view) {
    view.addUp(VIEWS, Narrowing.NONE);
    for (By by : VIEWS) {
      for (TrafficView.Bar bar : view.bars(by, Narrowing.NONE, false)) {
        Sum sum = bar.sum();
        sums.add(List.of(Sums.VIEWS, by.word(), bar.value()), sum.times(), sum.up(), sum.down());
      }
    }
  }

  private void hours(ByHour byHour) {
    byHour.sums.forEach(
        (hour, sum) ->
            sums.add(
                List.of(Sums.HOURS, Minutes.time(hour * ByHour.MINUTES).toString()),
                sum[0],
                sum[1],
                sum[2]));
  }

  private void lines(
      TapeColumns tape, RecordedDecisions decisions, Optional<RecordedDecisions> before) {
    BlockLines lines = new BlockLines();
    int[] codes = new int[LineBlock.MOST];
    int[] oldCodes = new int[LineBlock.MOST];
    ByCode byCode = new ByCode(decisions.codeCount());
    ByHour byHour = new ByHour();
    for (int b = 0; b < tape.blocks().size(); b++) {
      lines.read(tape.blocks().get(b));
      long[][] of = lines.sums();
      decisions.codes(0, b, codes);
      for (int i = 0; i < lines.count(); i++) {
        byCode.add(codes[i], lines.minutes()[i], of[0][i], of[1][i], of[2][i]);
        byHour.add(lines.minutes()[i], of[0][i], of[1][i], of[2][i]);
      }
      if (before.isPresent()) {
        before.get().codes(0, b, oldCodes);
        for (int i = 0; i < lines.count(); i++) {
          Decision was = before.get().decision(oldCodes[i]);
          Decision becomes = decisions.decision(codes[i]);
          if (!was.outcomes().equals(becomes.outcomes())) {
            changed(tape.line(b, i), was, becomes);
          }
        }
      }
    }
    hours(byHour);
    for (int code = 0; code < byCode.times.length; code++) {
      if (byCode.times[code] > 0) {
        hits(decisions.decision(code), byCode, code);
      }
    }
  }

  private void hits(Decision decision, ByCode sum, int code) {
    sums.add(
        List.of(Sums.HITS, DecisionWords.rule(decision)),
        sum.times[code],
        sum.up[code],
        sum.down[code],
        sum.first[code],
        sum.last[code]);
    if (decision.rules().size() > 1) {
      for (Optional<String> one : decision.rules()) {
        sums.add(
            List.of(Sums.POSSIBLE, one.orElse(DecisionWords.DEFAULT_VERDICT)),
            sum.times[code],
            0,
            0);
      }
    }
  }

  private void changed(Tape.Line line, Decision was, Decision becomes) {
    sums.add(
        List.of(
            Sums.CHANGED,
            ProbeText.print(line.connection()),
            DecisionWords.outcome(was),
            DecisionWords.outcome(becomes),
            rules(was),
            rules(becomes)),
        line.times(),
        line.volume().up(),
        line.volume().down());
  }

  private static String rules(Decision decision) {
    return decision.rules().stream()
        .map(rule -> rule.orElse(DecisionWords.DEFAULT_VERDICT))
        .collect(Collectors.joining(" or "));
  }

  /** Reads one record. */
  interface Reading {
    TrafficRecord record();
  }

  /** Sums of lines by the hour they were seen in; most lines of a log are of the hour before. */
  private static final class ByHour {
    private static final int MINUTES = 60;
    private final Map<Integer, long[]> sums = new HashMap<>();
    private int hour = Integer.MIN_VALUE;
    private long[] sum;

    private void add(int minute, long times, long up, long down) {
      int of = Math.floorDiv(minute, MINUTES);
      if (of != hour) {
        hour = of;
        sum = sums.computeIfAbsent(of, any -> new long[3]);
      }
      sum[0] += times;
      sum[1] += up;
      sum[2] += down;
    }
  }

  /** Sums of lines by the code of what is done with them. */
  private static final class ByCode {
    private final long[] times;
    private final long[] up;
    private final long[] down;
    private final int[] first;
    private final int[] last;

    private ByCode(int codes) {
      times = new long[codes];
      up = new long[codes];
      down = new long[codes];
      first = new int[codes];
      last = new int[codes];
      Arrays.fill(first, Integer.MAX_VALUE);
      Arrays.fill(last, Integer.MIN_VALUE);
    }

    private void add(int code, int minute, long more, long moreUp, long moreDown) {
      times[code] += more;
      up[code] += moreUp;
      down[code] += moreDown;
      first[code] = Math.min(first[code], minute);
      last[code] = Math.max(last[code], minute);
    }
  }
}
