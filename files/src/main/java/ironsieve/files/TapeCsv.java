package ironsieve.files;

import ironsieve.model.Tape;
import ironsieve.text.ProbeText;
import ironsieve.text.TextException;
import java.io.IOException;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVPrinter;
import org.apache.commons.csv.CSVRecord;

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
    CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).get();
    List<Tape.Line> lines = new ArrayList<>();
    try (CSVParser rows = CSVParser.parse(new StringReader(text), format)) {
      if (!rows.getHeaderMap().keySet().containsAll(List.of(TIMES, CONNECTION))) {
        throw new FaultException(
            "tape " + name, "line 1", "a tape begins with the columns times,connection");
      }
      for (CSVRecord row : rows) {
        if (lines.size() == MOST_LINES) {
          throw new FaultException(
              "tape " + name,
              place(row),
              "a tape has at most " + MOST_LINES + " lines; count what was seen several times");
        }
        lines.add(line(name, row, probes));
      }
    } catch (IOException | UncheckedIOException e) {
      throw new FaultException("tape " + name, "text", "this is not CSV: " + e.getMessage());
    }
    if (lines.isEmpty()) {
      throw new FaultException("tape " + name, "line 2", "there is no connection on it");
    }
    return new Tape(name, lines);
  }

  private static Tape.Line line(String name, CSVRecord row, ProbeText probes) {
    if (!row.isConsistent()) {
      throw new FaultException(
          "tape " + name, place(row), "a line has as many cells as there are columns");
    }
    String times = row.get(TIMES).trim();
    if (!times.matches("[1-9]\\d{0,14}")) {
      throw new FaultException(
          "tape " + name, place(row), "times is a whole number from 1, not \"" + times + "\"");
    }
    String connection = row.get(CONNECTION);
    if (!DATED.matcher(connection).find()) {
      throw new FaultException(
          "tape " + name,
          place(row),
          "a connection on a tape says when it was seen, such as at 2026-11-02 09:30");
    }
    try {
      return new Tape.Line(probes.parse(connection, UNASKED).connection(), Long.parseLong(times));
    } catch (TextException e) {
      throw new FaultException("tape " + name, place(row), e.getMessage());
    }
  }

  private static String place(CSVRecord row) {
    return "line " + (row.getRecordNumber() + 1);
  }
}
