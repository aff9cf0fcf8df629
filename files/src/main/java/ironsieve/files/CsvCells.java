package ironsieve.files;

import ironsieve.text.FileTextException;
import ironsieve.text.SourceText;
import java.io.IOException;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CancellationException;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.regex.Pattern;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/**
 * Cells of CSV after RFC 4180 as they go out and come in. A spreadsheet runs a cell that begins
 * with {@code = + - @}, a tab or a return as a formula, so such a cell gets an apostrophe before
 * it, which is taken off again when it is read.
 */
public final class CsvCells {

  private static final Pattern RUN = Pattern.compile("'*[=+\\-@\\t\\r].*", Pattern.DOTALL);
  private static final Pattern QUOTED = Pattern.compile("'+[=+\\-@\\t\\r].*", Pattern.DOTALL);

  private CsvCells() {}

  /** A cell that no spreadsheet runs; null stays null. */
  public static String format(String cell) {
    return cell != null && RUN.matcher(cell).matches() ? "'" + cell : cell;
  }

  /** The text of a cell. */
  public static String read(String cell) {
    return cell != null && QUOTED.matcher(cell).matches() ? cell.substring(1) : cell;
  }

  /** A row by the names of its columns, and where it stands. */
  public static final class Row {
    private final String file;
    private final CSVRecord cells;
    private final long line;

    private Row(String file, CSVRecord cells, long line) {
      this.file = file;
      this.cells = cells;
      this.line = line;
    }

    /** The cell of a column that there must be. */
    public String get(String column) {
      return optional(column)
          .orElseThrow(() -> fault(column, "the column \"" + column + "\" is missing"));
    }

    /** The cell of a column, if there is one. */
    public Optional<String> optional(String column) {
      return cells.isMapped(column) && cells.isSet(column)
          ? Optional.of(CsvCells.read(cells.get(column)))
          : Optional.empty();
    }

    /** The names of all columns, in their order. */
    public List<String> columns() {
      return cells.getParser().getHeaderNames();
    }

    /** Something wrong with a cell of this row. */
    public FaultException fault(String column, String message) {
      return new FaultException(file + ", line " + line, column, message);
    }
  }

  /** The same for a text that may have no other columns than these. */
  public static <T> List<T> rows(
      String file, String text, List<String> columns, Function<Row, T> reader) {
    return rows(
        file,
        text,
        header ->
            header.stream()
                .filter(column -> !columns.contains(column))
                .findFirst()
                .ifPresent(
                    column -> {
                      throw new FaultException(
                          file + ", line 1",
                          column,
                          "there is no column \""
                              + column
                              + "\"; there are "
                              + String.join(", ", columns));
                    }),
        reader);
  }

  /**
   * The rows of a text whose first line names the columns.
   *
   * @param file what to call it in messages
   * @param reader makes something of a row; what it says is wrong gets the row's line
   * @throws FaultException naming file, line and column
   */
  public static <T> List<T> rows(String file, String text, Function<Row, T> reader) {
    return rows(file, text, header -> {}, reader);
  }

  /** The same for somebody else's table, whose first line tells what stands between its cells. */
  static <T> List<T> separatedRows(String file, String text, Function<Row, T> reader) {
    return rows(file, text, separator(text), header -> {}, reader);
  }

  /** What stands most often in the first line of a comma, a semicolon, a tab and a bar. */
  static char separator(String text) {
    String first = text.lines().filter(line -> !line.isBlank()).findFirst().orElse("");
    char separator = ',';
    for (char candidate : new char[] {';', '\t', '|'}) {
      if (count(first, candidate) > count(first, separator)) {
        separator = candidate;
      }
    }
    return separator;
  }

  private static long count(String text, char wanted) {
    return text.chars().filter(c -> c == wanted).count();
  }

  private static <T> List<T> rows(
      String file, String text, Consumer<List<String>> header, Function<Row, T> reader) {
    return rows(file, text, ',', header, reader);
  }

  private static <T> List<T> rows(
      String file,
      String text,
      char separator,
      Consumer<List<String>> header,
      Function<Row, T> reader) {
    CSVFormat format =
        CSVFormat.RFC4180
            .builder()
            .setDelimiter(separator)
            .setHeader()
            .setSkipHeaderRecord(true)
            .get();
    List<T> read = new ArrayList<>();
    String checked = checked(file, text);
    try (CSVParser rows = CSVParser.parse(new StringReader(checked), format)) {
      header.accept(rows.getHeaderNames());
      long line = rows.getCurrentLineNumber() + 1;
      for (CSVRecord cells : rows) {
        Row row = new Row(file, cells, line);
        line = rows.getCurrentLineNumber() + 1;
        if (!cells.isConsistent()) {
          throw row.fault(
              "",
              "this line has "
                  + cells.size()
                  + " cells, and there are "
                  + rows.getHeaderNames().size()
                  + " columns");
        }
        read.add(read(row, reader));
      }
    } catch (FaultException | CancellationException e) {
      throw e;
    } catch (IOException | UncheckedIOException | IllegalStateException e) {
      throw new FaultException(file, "", "this is not CSV: " + reason(e));
    } catch (IllegalArgumentException e) {
      throw new FaultException(
          file + ", line 1", "", "the first line names the columns, each once");
    }
    return read;
  }

  private static String reason(Exception e) {
    String message = e.getCause() == null ? e.getMessage() : e.getCause().getMessage();
    return message == null
        ? "a quote is not closed"
        : message.replaceAll("^[\\w.]+Exception: ", "");
  }

  private static String checked(String file, String text) {
    try {
      return SourceText.checked(text);
    } catch (FileTextException e) {
      throw new FaultException(file, "", e.getMessage());
    }
  }

  private static <T> T read(Row row, Function<Row, T> reader) {
    try {
      return reader.apply(row);
    } catch (FaultException e) {
      Fault first = e.faults().get(0);
      throw first.place().startsWith(row.file) ? e : row.fault(first.field(), first.message());
    } catch (IllegalArgumentException e) {
      throw row.fault("", e.getMessage());
    }
  }
}
