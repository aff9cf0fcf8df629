package ironsieve.traffic.file;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.MappingIterator;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.FaultException;
import ironsieve.traffic.log.LogField;
import ironsieve.traffic.log.LogMapping;
import ironsieve.traffic.log.LogRecords;
import ironsieve.traffic.tape.TrafficRecord;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.PushbackReader;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.time.DateTimeException;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CancellationException;
import java.util.function.Consumer;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/** A table of any columns as records: CSV with a line of names, or one JSON object on each line. */
public final class LogTable {

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final int SHOWN_LINES = 8;
  private static final int SHOWN_FAULTS = 5;
  private static final int MOST_COLUMNS = 500;
  private static final char[] SEPARATORS = {',', ';', '\t', '|'};

  private final ZoneId zone;

  LogTable(ZoneId zone) {
    this.zone = zone;
  }

  /**
   * What a table looks like.
   *
   * @param columns the names of its columns
   * @param guessed which column says what, by its name
   * @param lines the first lines, by column
   */
  public record Look(
      List<String> columns, Map<String, String> guessed, List<Map<String, String>> lines) {}

  /**
   * What came of the lines of a table.
   *
   * @param read how many are records
   * @param faults what is wrong with the first that are none
   */
  record Result(long read, long unread, List<String> faults) {}

  /** One line of a table. */
  interface Row {

    /** The names of its columns. */
    List<String> columns();

    /** What stands in a column; null where nothing does. */
    String value(String column);
  }

  /** Told of each line. */
  interface Line {
    void line(long number, Row row);
  }

  /** Shows the first lines of a table. */
  Look look(Reader reader) throws IOException {
    List<Map<String, String>> lines = new ArrayList<>();
    List<String> columns = new ArrayList<>();
    try {
      each(
          reader,
          (number, row) -> {
            row.columns().stream()
                .filter(name -> !columns.contains(name) && columns.size() < MOST_COLUMNS)
                .forEach(columns::add);
            Map<String, String> values = new LinkedHashMap<>();
            row.columns().forEach(name -> values.put(name, row.value(name)));
            lines.add(values);
            if (lines.size() >= SHOWN_LINES) {
              throw new EnoughException();
            }
          });
    } catch (EnoughException e) {
      // The first lines are all that is looked at.
    }
    Map<String, String> guessed = new LinkedHashMap<>();
    LogMapping.guess(columns, zone)
        .columns()
        .forEach((field, column) -> guessed.put(field.word(), column));
    return new Look(columns, guessed, lines);
  }

  private static final class EnoughException extends RuntimeException {
    private static final long serialVersionUID = 1L;
  }

  /**
   * The records of a table.
   *
   * @param mapping nothing where the names of the columns say it
   * @throws FaultException if nothing says when and between whom
   */
  Result read(String name, Reader reader, Optional<LogMapping> mapping, Consumer<TrafficRecord> to)
      throws IOException {
    long[] counts = new long[2];
    List<String> faults = new ArrayList<>();
    LogMapping[] use = {mapping.orElse(null)};
    LogRecords[] records = new LogRecords[1];
    each(
        reader,
        (number, row) -> {
          if (use[0] == null) {
            use[0] = LogMapping.guess(row.columns(), zone);
          }
          if (records[0] == null) {
            demandColumns(name, use[0], row.columns());
            records[0] = new LogRecords(use[0].zone());
          }
          try {
            to.accept(record(row, use[0], records[0]));
            counts[0]++;
          } catch (LogRecords.FieldException e) {
            counts[1]++;
            if (faults.size() < SHOWN_FAULTS) {
              faults.add("line " + number + ", " + e.getMessage());
            }
          }
        });
    return new Result(counts[0], counts[1], faults);
  }

  static TrafficRecord record(Row row, LogMapping mapping, LogRecords records) {
    return records.of(
        field -> {
          String column = mapping.columns().get(field);
          return column == null
              ? null
              : LogMapping.constant(column).orElseGet(() -> row.value(column));
        });
  }

  static void demandColumns(String name, LogMapping mapping, List<String> columns) {
    List<LogField> missing = mapping.missing();
    if (!missing.isEmpty()) {
      throw new FaultException(
          "tape " + name,
          "columns",
          "no column says "
              + String.join(" and ", missing.stream().map(LogField::word).toList())
              + "; say which of these does: "
              + String.join(", ", columns));
    }
  }

  /** Reads a table line by line. */
  static void each(Reader reader, Line to) throws IOException {
    BoundedRecords records = new BoundedRecords(reader);
    BufferedReader lines = new BufferedReader(records, 1 << 16);
    lines.mark(1);
    int first = lines.read();
    while (first == '\uFEFF' || Character.isWhitespace(first)) {
      lines.mark(1);
      first = lines.read();
    }
    if (first < 0) {
      return;
    }
    lines.reset();
    if (first == '{') {
      json(lines, records, to);
    } else if (first == '[') {
      array(lines, records, to);
    } else {
      csv(lines, records, to);
    }
  }

  private record OfMap(Map<String, String> values) implements Row {
    @Override
    public List<String> columns() {
      return List.copyOf(values.keySet());
    }

    @Override
    public String value(String column) {
      return values.get(column);
    }
  }

  /** A row of CSV. */
  record OfCells(List<String> columns, List<String> cells) implements Row {
    @Override
    public String value(String column) {
      // Few columns are looked for faster than a map is asked.
      int place = columns.indexOf(column);
      return place < 0 || place >= cells.size() ? null : cells.get(place);
    }
  }

  /** Objects of one array, over however many lines. */
  private static void array(Reader text, BoundedRecords records, Line to) throws IOException {
    long number = 0;
    try (MappingIterator<JsonNode> objects = JSON.readerFor(JsonNode.class).readValues(text)) {
      while (objects.hasNextValue()) {
        JsonNode object = objects.nextValue();
        records.next();
        number++;
        Map<String, String> values = new LinkedHashMap<>();
        flatten("", object, values);
        to.line(number, new OfMap(values));
      }
    } catch (JsonProcessingException e) {
      throw new FaultException(
          "table, object " + (number + 1),
          "",
          "this is no array of JSON objects: " + e.getOriginalMessage());
    }
  }

  private static void json(BufferedReader lines, BoundedRecords records, Line to)
      throws IOException {
    long number = 0;
    for (String line = lines.readLine(); line != null; line = lines.readLine()) {
      records.next();
      number++;
      if (line.isBlank()) {
        continue;
      }
      to.line(number, object(line));
    }
  }

  /** A JSON object; one without values where a line is none. */
  static Row object(String line) {
    Map<String, String> values = new LinkedHashMap<>();
    try {
      flatten("", JSON.readTree(line), values);
    } catch (JsonProcessingException e) {
      values.clear();
    }
    return new OfMap(values);
  }

  /** Objects within objects are read as names with a point between. */
  private static void flatten(String prefix, JsonNode node, Map<String, String> values) {
    if (node.isObject()) {
      node.properties()
          .forEach(
              entry ->
                  flatten(
                      prefix.isEmpty() ? entry.getKey() : prefix + "." + entry.getKey(),
                      entry.getValue(),
                      values));
    } else if (!prefix.isEmpty() && node.isValueNode() && !node.isNull()) {
      values.put(prefix, node.asText());
    }
  }

  private static void csv(BufferedReader lines, BoundedRecords records, Line to)
      throws IOException {
    String header = lines.readLine();
    records.next();
    char separator = separator(header);
    CSVFormat format = format(separator);
    if (header.indexOf('"') >= 0) {
      quoted(before(header, lines), records, format, null, 0, to);
      return;
    }
    List<String> columns = cells(header, separator);
    long number = 1;
    // Most logs quote nothing; the first quote is where somebody else reads on.
    for (String line = lines.readLine(); line != null; line = lines.readLine()) {
      records.next();
      if (line.indexOf('"') >= 0) {
        quoted(before(line, lines), records, format, columns, number, to);
        return;
      }
      number++;
      to.line(number, new OfCells(columns, cells(line, separator)));
    }
  }

  /** Some lines with one before them that was taken from them. */
  private static Reader before(String line, Reader lines) throws IOException {
    PushbackReader whole = new PushbackReader(lines, line.length() + 1);
    whole.unread((line + "\n").toCharArray());
    return whole;
  }

  static CSVFormat format(char separator) {
    return CSVFormat.RFC4180.builder().setDelimiter(separator).setTrim(true).get();
  }

  static List<String> cells(String line, char separator) {
    List<String> cells = new ArrayList<>(16);
    int from = 0;
    for (int at = line.indexOf(separator); at >= 0; at = line.indexOf(separator, from)) {
      cells.add(line.substring(from, at).trim());
      from = at + 1;
    }
    cells.add(line.substring(from).trim());
    return cells;
  }

  /**
   * Rows in which cells may stand in quotes, and go over several lines there.
   *
   * @param known the names of the columns; null where the first row has them
   * @param before so many lines were before these
   */
  private static void quoted(
      Reader lines,
      BoundedRecords records,
      CSVFormat format,
      List<String> known,
      long before,
      Line to)
      throws IOException {
    try (CSVParser rows = CSVParser.parse(lines, format)) {
      List<String> columns = known;
      for (CSVRecord row : rows) {
        records.next();
        if (columns == null) {
          columns = row.toList();
        } else {
          to.line(before + rows.getCurrentLineNumber(), new OfCells(columns, row.toList()));
        }
      }
    } catch (CancellationException e) {
      throw e;
    } catch (UncheckedIOException | IllegalArgumentException | IllegalStateException e) {
      throw new FaultException("table", "", "this is no CSV: " + e.getMessage());
    }
  }

  static char separator(String header) {
    char best = ',';
    long most = 0;
    for (char one : SEPARATORS) {
      long count = header.chars().filter(c -> c == one).count();
      if (count > most) {
        most = count;
        best = one;
      }
    }
    return best;
  }

  /**
   * A mapping as somebody wrote it: {@code {"time": "Start", "from": "Src", "zone":
   * "Europe/Berlin"}}.
   *
   * @throws FaultException if it is none
   */
  static LogMapping mapping(String json, ZoneId local) {
    try {
      JsonNode root = JSON.readTree(json);
      Map<LogField, String> columns = new EnumMap<>(LogField.class);
      ZoneId zone = local;
      for (Map.Entry<String, JsonNode> entry : root.properties()) {
        if (entry.getKey().equals("zone")) {
          zone = ZoneId.of(entry.getValue().asText());
          continue;
        }
        LogField field =
            LogField.of(entry.getKey())
                .orElseThrow(
                    () ->
                        new FaultException(
                            "mapping",
                            entry.getKey(),
                            "there is no such field; there are "
                                + String.join(
                                    ", ",
                                    java.util.Arrays.stream(LogField.values())
                                        .map(LogField::word)
                                        .toList())));
        if (!entry.getValue().asText().isBlank()) {
          columns.put(field, entry.getValue().asText());
        }
      }
      return new LogMapping(columns, zone);
    } catch (JsonProcessingException e) {
      throw new FaultException("mapping", "", "this is no JSON: " + e.getOriginalMessage());
    } catch (DateTimeException e) {
      throw new FaultException("mapping", "zone", e.getMessage());
    }
  }
}
