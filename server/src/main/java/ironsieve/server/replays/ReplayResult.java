package ironsieve.server.replays;

import ironsieve.files.CsvCells;
import ironsieve.recorded.Minutes;
import ironsieve.traffic.view.StepsOfTime;
import ironsieve.traffic.view.Sum;
import ironsieve.traffic.view.TrafficView.Bar;
import ironsieve.traffic.view.TrafficView.Step;
import java.io.IOException;
import java.io.Reader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/**
 * What came of a replay, as far as somebody looks at it: sums over time and by what, who and where,
 * connections that get another verdict, and what could not be read. Longer lists are cut off, and
 * it is said how much of them is left out.
 *
 * @param missing files that could not be opened, each with why
 * @param changed most frequent first
 * @param changedSum how many lines and connections get another verdict in all
 */
public record ReplayResult(
    Sum total,
    long minutes,
    List<Step> steps,
    List<ChartDoc> charts,
    List<ChangedDoc> changed,
    ChangedSum changedSum,
    List<UnreadDoc> unread,
    List<String> missing) {

  private static final int MOST_BARS = 500;
  private static final int MOST_CHANGED = 1_000;
  private static final int MOST_UNREAD = 200;
  private static final String CONNECTIONS = "connections";
  private static final String REASON = "reason";

  /** Sums by one thing, most connections first; {@code more} values are left out. */
  public record ChartDoc(String by, List<Bar> bars, int more) {}

  /** A connection as a probe, its verdicts by the older revision and by this one, and the rules. */
  public record ChangedDoc(
      long times,
      String probe,
      String before,
      String after,
      String rulesBefore,
      String rulesAfter) {}

  /** How many lines and connections get another verdict. */
  public record ChangedSum(long lines, long connections) {}

  /** Why lines could not be read or what is not known, how often, and some of them. */
  public record UnreadDoc(String reason, long times, List<String> examples) {}

  /**
   * Reads what the command wrote.
   *
   * @param out its folder of results, with CSV
   * @throws IOException if that is not there or cut off
   */
  static ReplayResult read(Path out, List<String> missing) throws IOException {
    TreeMap<Integer, Sum> hours = new TreeMap<>();
    rows(
        out,
        "hours",
        row -> hours.put(Minutes.of(LocalDateTime.parse(cell(row, "hour"))), sum(row)));
    Sum total = hours.values().stream().reduce(Sum.NOTHING, Sum::and);
    StepsOfTime time =
        hours.isEmpty()
            ? new StepsOfTime(0, 1, 0)
            : StepsOfTime.ofHours(hours.firstKey(), hours.lastKey());
    List<ChangedDoc> changed = new ArrayList<>();
    long[] changedSum = new long[2];
    rows(
        out,
        "changed",
        row -> {
          changedSum[0]++;
          changedSum[1] += number(row, CONNECTIONS);
          if (changed.size() < MOST_CHANGED) {
            changed.add(changed(row));
          }
        });
    return new ReplayResult(
        total,
        time.minutes(),
        steps(hours, time),
        charts(out),
        changed,
        new ChangedSum(changedSum[0], changedSum[1]),
        unread(out),
        missing);
  }

  private static List<Step> steps(TreeMap<Integer, Sum> hours, StepsOfTime time) {
    Sum[] sums = new Sum[time.count()];
    java.util.Arrays.fill(sums, Sum.NOTHING);
    hours.forEach((minute, sum) -> sums[time.step(minute)] = sums[time.step(minute)].and(sum));
    List<Step> steps = new ArrayList<>();
    for (int i = 0; i < sums.length; i++) {
      steps.add(new Step(time.begin(i), sums[i]));
    }
    return steps;
  }

  private static List<ChartDoc> charts(Path out) throws IOException {
    Map<String, List<Bar>> bars = new LinkedHashMap<>();
    Map<String, Integer> more = new LinkedHashMap<>();
    rows(
        out,
        "views",
        row -> {
          List<Bar> of = bars.computeIfAbsent(cell(row, "by"), any -> new ArrayList<>());
          if (of.size() < MOST_BARS) {
            of.add(new Bar(cell(row, "value"), sum(row)));
          } else {
            more.merge(cell(row, "by"), 1, Integer::sum);
          }
        });
    return bars.entrySet().stream()
        .map(one -> new ChartDoc(one.getKey(), one.getValue(), more.getOrDefault(one.getKey(), 0)))
        .toList();
  }

  private static ChangedDoc changed(CSVRecord row) {
    return new ChangedDoc(
        number(row, CONNECTIONS),
        cell(row, "connection"),
        cell(row, "before"),
        cell(row, "after"),
        cell(row, "rules_before"),
        cell(row, "rules_after"));
  }

  private static List<UnreadDoc> unread(Path out) throws IOException {
    Map<String, List<String>> examples = new LinkedHashMap<>();
    rows(
        out,
        "unread-examples",
        row ->
            examples
                .computeIfAbsent(cell(row, REASON), any -> new ArrayList<>())
                .add(cell(row, "example")));
    List<UnreadDoc> unread = new ArrayList<>();
    rows(
        out,
        "unread",
        row -> {
          if (unread.size() < MOST_UNREAD) {
            String reason = cell(row, REASON);
            unread.add(
                new UnreadDoc(
                    reason,
                    number(row, CONNECTIONS),
                    examples.getOrDefault(reason, List.of()).stream().limit(3).toList()));
          }
        });
    return unread;
  }

  private static Sum sum(CSVRecord row) {
    return new Sum(number(row, CONNECTIONS), number(row, "bytes_up"), number(row, "bytes_down"));
  }

  private static String cell(CSVRecord row, String column) {
    return CsvCells.read(row.get(column));
  }

  private static long number(CSVRecord row, String column) {
    return Long.parseLong(row.get(column));
  }

  private static void rows(Path out, String name, Consumer<CSVRecord> each) throws IOException {
    CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).get();
    try (Stream<Path> parts = Files.list(out.resolve(name + ".csv"))) {
      for (Path part : parts.filter(one -> one.toString().endsWith(".csv")).sorted().toList()) {
        try (Reader text = Files.newBufferedReader(part);
            CSVParser rows = CSVParser.parse(text, format)) {
          rows.forEach(each);
        }
      }
    }
  }
}
