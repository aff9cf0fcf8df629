package ironsieve.files;

import ironsieve.model.Connection;
import ironsieve.model.Tape;
import ironsieve.progress.Progress;
import ironsieve.text.ProbeText;
import ironsieve.text.TextException;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import java.util.regex.Pattern;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/**
 * A tape as CSV after RFC 4180: how many {@code times} a {@code connection} was seen, the
 * connection as a probe with its date.
 */
public final class TapeCsv {

  /** More lines than this are no help to anybody reading them. */
  public static final int MOST_LINES = 100_000;

  private static final String TIMES = "times";
  private static final String CONNECTION = "connection";

  private static final Pattern DATED = Pattern.compile("\\bat\\s.*\\d{4}-\\d{2}-\\d{2}\\s");
  // Only read where no date is said, and one always is.
  private static final LocalDateTime UNASKED = LocalDate.EPOCH.atStartOfDay();

  private TapeCsv() {}

  /** The tape as text. */
  public static String write(Tape tape) {
    StringBuilder out = new StringBuilder();
    try (CSVPrinter printer = new CSVPrinter(out, CSVFormat.RFC4180)) {
      printer.printRecord(TIMES, CONNECTION);
      for (Tape.Line line : tape.lines()) {
        printer.printRecord(line.times(), ProbeText.print(line.connection()));
      }
    } catch (IOException e) {
      throw new UncheckedIOException("writing to memory", e);
    }
    return out.toString();
  }

  /**
   * The tape in a text.
   *
   * @throws FaultException naming the first line that cannot be read, and what would be right
   */
  public static Tape read(String name, String text, ProbeText probes) {
    return read(name, text, probes, new Progress());
  }

  /**
   * The tape in a text, for somebody who may lose patience.
   *
   * @param progress told of every line that is read
   * @throws FaultException naming the first line that cannot be read, and what would be right
   * @throws java.util.concurrent.CancellationException soon after {@code progress} is stopped
   */
  public static Tape read(String name, String text, ProbeText probes, Progress progress) {
    progress.begin("reading lines", (int) Math.max(0, text.lines().count() - 1));
    String file = "tape " + name;
    if (!text.lines().findFirst().orElse("").matches("\uFEFF?\\s*\"?(times|connection)\\b.*")) {
      throw new FaultException(
          file + ", line 1", "", "a tape begins with the columns times,connection");
    }
    int[] count = {0};
    List<Tape.Line> lines =
        CsvCells.rows(
            file,
            text,
            row -> {
              progress.check();
              progress.oneMore();
              if (++count[0] > MOST_LINES) {
                throw row.fault(
                    "",
                    "a tape has at most "
                        + MOST_LINES
                        + " lines; count what was seen several times");
              }
              return line(row, probes);
            });
    if (lines.isEmpty()) {
      throw new FaultException(file + ", line 2", "", "there is no connection on it");
    }
    return new Tape(name, lines);
  }

  /**
   * The tape in a text that could be read once: of a line that names somebody or something there no
   * longer is, only how often it was seen is known.
   *
   * @throws FaultException naming the first line that is none
   */
  public static Tape kept(String name, String text, ProbeText probes) {
    long[] gone = {0};
    List<Tape.Line> lines = new ArrayList<>();
    CsvCells.rows(
        "tape " + name,
        text,
        row -> {
          try {
            lines.add(line(row, probes));
          } catch (FaultException e) {
            gone[0] += times(row);
          }
          return name;
        });
    return new Tape(name, lines, gone[0]);
  }

  /** The same tape with other words in the lines that can be read. */
  static String renamed(String text, ProbeText probes, UnaryOperator<Connection> words) {
    StringWriter out = new StringWriter();
    try (CSVPrinter printer =
        new CSVPrinter(out, CSVFormat.RFC4180.builder().setHeader(TIMES, CONNECTION).get())) {
      for (List<String> line : CsvCells.rows("tape", text, row -> renamed(row, probes, words))) {
        printer.printRecord(line);
      }
    } catch (IOException e) {
      throw new UncheckedIOException("writing to memory", e);
    }
    return out.toString();
  }

  private static List<String> renamed(
      CsvCells.Row row, ProbeText probes, UnaryOperator<Connection> words) {
    String connection = row.get(CONNECTION);
    try {
      String said = ProbeText.print(words.apply(probes.parse(connection, UNASKED).connection()));
      return List.of(row.get(TIMES), said);
    } catch (TextException e) {
      return List.of(row.get(TIMES), connection);
    }
  }

  private static long times(CsvCells.Row row) {
    String times = row.get(TIMES).trim();
    if (!times.matches("[1-9]\\d{0,14}")) {
      throw row.fault(TIMES, "times is a whole number from 1, not \"" + times + "\"");
    }
    return Long.parseLong(times);
  }

  private static Tape.Line line(CsvCells.Row row, ProbeText probes) {
    long times = times(row);
    String connection = row.get(CONNECTION);
    if (!DATED.matcher(connection).find()) {
      throw row.fault(
          CONNECTION, "a connection on a tape says when it was seen, such as at 2026-11-02 09:30");
    }
    try {
      return new Tape.Line(probes.parse(connection, UNASKED).connection(), times);
    } catch (TextException e) {
      throw row.fault(
          CONNECTION, "column " + (e.position() + 1) + " of the connection: " + e.getMessage());
    }
  }
}
