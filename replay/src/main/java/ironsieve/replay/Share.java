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
import ironsieve.traffic.file.TableLines;
import ironsieve.traffic.log.Ipfix;
import ironsieve.traffic.log.LogField;
import ironsieve.traffic.log.LogRecords;
import ironsieve.traffic.tape.TapeMaker;
import ironsieve.traffic.tape.TrafficRecord;
import ironsieve.traffic.view.By;
import ironsieve.traffic.view.TrafficView;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.apache.spark.api.java.function.MapPartitionsFunction;
import org.apache.spark.broadcast.Broadcast;
import org.apache.spark.sql.Row;

/**
 * What one share of the files comes to: its rows as records, put into columns, decided, and added
 * up. Lines beyond a bound are decided before more are read, so a share of any size fits.
 */
final class Share implements MapPartitionsFunction<Row, Row> {

  private static final long serialVersionUID = 1L;

  private static final long LINES_AT_ONCE = 2_000_000;
  private static final int EXAMPLES = 3;

  private final Broadcast<Sent> sent;
  private final Shape shape;
  private final String first;
  private final String mapping;

  /** What a row is. */
  enum Shape {
    /** A line of CSV or JSON. */
    LINE,
    /** A row with a column for each field that is said, named as {@link LogField#name()}. */
    COLUMNS,
    /** A file of IPFIX messages. */
    FLOWS
  }

  /**
   * A share of files.
   *
   * @param first the first line of each file, where rows are lines; of CSV it says the columns
   */
  Share(Broadcast<Sent> sent, Shape shape, String first, String mapping) {
    this.sent = sent;
    this.shape = shape;
    this.first = first;
    this.mapping = mapping;
  }

  @Override
  public Iterator<Row> call(Iterator<Row> rows) {
    Adding adding = new Adding(sent.value());
    switch (shape) {
      case LINE -> lines(rows, adding);
      case COLUMNS -> columns(rows, adding);
      case FLOWS -> rows.forEachRemaining(row -> flows(row, adding));
    }
    adding.decide();
    return adding.sums.rows();
  }

  private void lines(Iterator<Row> rows, Adding adding) {
    TableLines lines = TableLines.of("the files", first, mapping, sent.value().zone());
    boolean isHeader = !first.stripLeading().startsWith("{");
    while (rows.hasNext()) {
      String line = rows.next().getString(0);
      if (line.isBlank() || isHeader && line.equals(first)) {
        continue;
      }
      adding.read(() -> lines.record(line));
    }
  }

  private void columns(Iterator<Row> rows, Adding adding) {
    LogRecords records = new LogRecords(sent.value().zone());
    LogField[] fields = LogField.values();
    int[] places = null;
    while (rows.hasNext()) {
      Row row = rows.next();
      if (places == null) {
        places = places(row, fields);
      }
      int[] of = places;
      adding.read(
          () ->
              records.of(
                  field ->
                      of[field.ordinal()] < 0 || row.isNullAt(of[field.ordinal()])
                          ? null
                          : row.getString(of[field.ordinal()])));
    }
  }

  private static int[] places(Row row, LogField[] fields) {
    List<String> names = List.of(row.schema().fieldNames());
    int[] places = new int[fields.length];
    for (LogField field : fields) {
      places[field.ordinal()] = names.indexOf(field.name());
    }
    return places;
  }

  private static void flows(Row row, Adding adding) {
    byte[] all = row.getAs("content");
    String path = row.getAs("path");
    Ipfix ipfix = new Ipfix(adding.zone);
    int at = 0;
    while (at < all.length) {
      int length = Ipfix.length(all, at, all.length - at);
      if (length == 0 || at + length > all.length) {
        adding.unread("flow records", path + " ends in the middle of a message");
        break;
      }
      ipfix.message(path, all, at, length, adding::add);
      at += length;
    }
    long unread = ipfix.unreadable() + ipfix.withoutTemplate();
    if (unread > 0) {
      adding.unread("flow records", path + " has messages or records that cannot be read", unread);
    }
  }

  /** Reads one record. */
  private interface Reading {
    TrafficRecord record();
  }

  /** Records while they are put into columns, and what was added up of those before. */
  private static final class Adding {
    private final Sent.Compiled with;
    private final java.time.ZoneId zone;
    private final Sums sums = new Sums();
    private final Set<String> examples = new HashSet<>();
    private BlockStore blocks;
    private TapeMaker maker;

    private Adding(Sent sent) {
      with = sent.compiled();
      zone = sent.zone();
      begin();
    }

    private void begin() {
      BlockStore next = BlockStore.inMemory();
      blocks = next;
      maker = new TapeMaker(with.environment(), next::add);
    }

    private void read(Reading reading) {
      TrafficRecord record;
      try {
        record = reading.record();
      } catch (LogRecords.FieldException e) {
        unread(e.getMessage().substring(0, e.getMessage().indexOf(':')), e.getMessage());
        return;
      }
      add(record);
    }

    private void add(TrafficRecord record) {
      maker.add(record);
      if (maker.lines() >= LINES_AT_ONCE) {
        decide();
      }
    }

    private void unread(String reason, String example) {
      unread(reason, example, 1);
    }

    private void unread(String reason, String example, long times) {
      sums.add(List.of(Sums.UNREAD, reason), times, 0, 0);
      if (examples.size() < EXAMPLES && examples.add(example)) {
        sums.add(List.of(Sums.EXAMPLE, reason, example), 1, 0, 0);
      }
    }

    private void decide() {
      TapeMaker.Made made = maker.made();
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
      for (By by : By.values()) {
        if (by != By.TAPE) {
          for (TrafficView.Bar bar : view.bars(by, TrafficView.Narrowing.NONE, false)) {
            TrafficView.Sum sum = bar.sum();
            sums.add(
                List.of(Sums.VIEWS, by.word(), bar.value()), sum.times(), sum.up(), sum.down());
          }
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
            if (!was.verdicts().equals(becomes.verdicts())) {
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
          List.of(Sums.HITS, TrafficView.rule(decision)),
          sum.times[code],
          sum.up[code],
          sum.down[code],
          sum.first[code],
          sum.last[code]);
      if (decision.rules().size() > 1) {
        for (Optional<String> one : decision.rules()) {
          sums.add(
              List.of(Sums.POSSIBLE, one.orElse(TrafficView.DEFAULT_VERDICT)),
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
              TrafficView.verdict(was),
              TrafficView.verdict(becomes),
              rules(was),
              rules(becomes)),
          line.times(),
          line.volume().up(),
          line.volume().down());
    }

    private static String rules(Decision decision) {
      return decision.rules().stream()
          .map(rule -> rule.orElse(TrafficView.DEFAULT_VERDICT))
          .collect(Collectors.joining(" or "));
    }
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
      java.util.Arrays.fill(first, Integer.MAX_VALUE);
      java.util.Arrays.fill(last, Integer.MIN_VALUE);
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
