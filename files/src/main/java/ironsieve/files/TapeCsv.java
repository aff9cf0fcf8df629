package ironsieve.files;

import ironsieve.model.Connection;
import ironsieve.model.Tape;
import ironsieve.progress.Progress;
import ironsieve.recorded.Minutes;
import ironsieve.recorded.TapeColumns;
import ironsieve.text.ProbeText;
import ironsieve.text.TextException;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/**
 * A tape as CSV after RFC 4180: how many {@code times} a {@code connection} was seen, the
 * connection as a probe with its date; if it is known, how many bytes went {@code up} and {@code
 * down}; and what the record does not say ({@code unsaid}), so that it may have been anything.
 */
public final class TapeCsv {

  /** More lines than this are no help to anybody reading them. */
  public static final int MOST_LINES = 1_000_000;

  private static final String TIMES = "times";
  private static final String CONNECTION = "connection";
  private static final String UP = "up";
  private static final String DOWN = "down";
  private static final String UNSAID = "unsaid";
  private static final String SAMPLE = "sample";

  private static final Pattern DATED = Pattern.compile("\\bat\\s.*\\d{4}-\\d{2}-\\d{2}\\s");
  // Only read where no date is said, and one always is.
  private static final LocalDateTime UNASKED = LocalDate.EPOCH.atStartOfDay();

  private TapeCsv() {}

  /** The tape as text. */
  public static String write(Tape tape) {
    StringBuilder out = new StringBuilder();
    boolean isLong =
        tape.lines().stream()
            .anyMatch(
                line -> line.volume().both() > 0 || !line.unsaid().isEmpty() || line.sample() >= 0);
    try (CSVPrinter printer = new CSVPrinter(out, CSVFormat.RFC4180)) {
      printHead(printer, isLong);
      for (Tape.Line line : tape.lines()) {
        print(printer, line, isLong, true);
      }
    } catch (IOException e) {
      throw new UncheckedIOException("writing to memory", e);
    }
    return out.toString();
  }

  /** Writes a tape of any size line by line, without its samples. */
  public static void write(TapeColumns tape, Appendable out) {
    try {
      CSVPrinter printer = new CSVPrinter(out, CSVFormat.RFC4180);
      printHead(printer, true);
      tape.forEach(
          line -> {
            try {
              print(printer, line, true, false);
            } catch (IOException e) {
              throw new UncheckedIOException("the tape " + tape.name(), e);
            }
          });
      printer.flush();
    } catch (IOException e) {
      throw new UncheckedIOException("the tape " + tape.name(), e);
    }
  }

  private static void printHead(CSVPrinter printer, boolean isLong) throws IOException {
    printer.printRecord(
        isLong ? List.of(TIMES, CONNECTION, UP, DOWN, UNSAID, SAMPLE) : List.of(TIMES, CONNECTION));
  }

  private static void print(CSVPrinter printer, Tape.Line line, boolean isLong, boolean withSample)
      throws IOException {
    String connection = ProbeText.print(line.connection());
    if (isLong) {
      printer.printRecord(
          line.times(),
          connection,
          line.volume().up(),
          line.volume().down(),
          line.unsaid().stream().map(Tape.Unsaid::word).collect(Collectors.joining("; ")),
          line.sample() < 0 || !withSample ? "" : line.sample());
    } else {
      printer.printRecord(line.times(), connection);
    }
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
  public static Tape readStored(String name, String text, ProbeText probes) {
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
    try (CSVPrinter printer = new CSVPrinter(out, CSVFormat.RFC4180)) {
      boolean[] isBegun = {false};
      List<List<String>> lines =
          CsvCells.rows(
              "tape",
              text,
              row -> {
                if (!isBegun[0]) {
                  isBegun[0] = true;
                  printRecord(printer, row.columns());
                }
                return renamed(row, probes, words);
              });
      if (!isBegun[0]) {
        printRecord(printer, List.of(TIMES, CONNECTION));
      }
      for (List<String> line : lines) {
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
    String said;
    try {
      said = ProbeText.print(words.apply(probes.parse(connection, UNASKED).connection()));
    } catch (TextException e) {
      said = connection;
    }
    String now = said;
    return row.columns().stream()
        .map(column -> column.equals(CONNECTION) ? now : row.get(column))
        .toList();
  }

  private static void printRecord(CSVPrinter printer, List<String> cells) {
    try {
      printer.printRecord(cells);
    } catch (IOException e) {
      throw new UncheckedIOException("writing to memory", e);
    }
  }

  private static long bytes(CsvCells.Row row, String column) {
    String bytes = row.optional(column).orElse("").trim();
    if (!bytes.matches("\\d{0,18}")) {
      throw row.fault(column, "bytes are a whole number, not \"" + bytes + "\"");
    }
    return bytes.isEmpty() ? 0 : Long.parseLong(bytes);
  }

  private static int sample(CsvCells.Row row) {
    String number = row.optional(SAMPLE).orElse("").trim();
    if (!number.matches("\\d{0,7}")) {
      throw row.fault(SAMPLE, "a sample is a number, not \"" + number + "\"");
    }
    return number.isEmpty() ? Tape.NO_SAMPLE : Integer.parseInt(number);
  }

  private static Set<Tape.Unsaid> unsaid(CsvCells.Row row) {
    Set<Tape.Unsaid> unsaid = EnumSet.noneOf(Tape.Unsaid.class);
    for (String word : row.optional(UNSAID).orElse("").split(";")) {
      if (!word.isBlank()) {
        unsaid.add(
            Arrays.stream(Tape.Unsaid.values())
                .filter(one -> one.word().equals(word.trim()))
                .findFirst()
                .orElseThrow(
                    () ->
                        row.fault(
                            UNSAID,
                            "what a record does not say is person, device, host name or"
                                + " application, not \""
                                + word.trim()
                                + "\"")));
      }
    }
    return unsaid;
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
      Connection parsed = probes.parse(connection, UNASKED).connection();
      if (!Minutes.isInRange(parsed.at())) {
        throw row.fault(CONNECTION, Minutes.RANGE + ", not at " + parsed.at());
      }
      return new Tape.Line(
          parsed,
          times,
          new Tape.Volume(bytes(row, UP), bytes(row, DOWN)),
          unsaid(row),
          sample(row));
    } catch (TextException e) {
      throw row.fault(
          CONNECTION, "column " + (e.position() + 1) + " of the connection: " + e.getMessage());
    }
  }
}
