package ironsieve.traffic.file;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.FaultException;
import ironsieve.traffic.log.LogField;
import ironsieve.traffic.log.LogMapping;
import ironsieve.traffic.log.LogRecords;
import ironsieve.traffic.tape.TrafficRecord;
import java.io.IOException;
import java.time.ZoneId;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;

/**
 * Lines of a table one by one and in any order, for whoever reads parts of a file: CSV, whose first
 * line is known, or JSON. As {@link TapeFile} reads them, but that a cell in quotes ends with its
 * line. For one thread.
 */
public final class TableLines {

  private static final ObjectMapper JSON = new ObjectMapper();

  private final List<String> columns;
  private final char separator;
  private final LogMapping mapping;
  private final LogRecords records;

  private TableLines(List<String> columns, char separator, LogMapping mapping) {
    this.columns = columns;
    this.separator = separator;
    this.mapping = mapping;
    records = new LogRecords(mapping.zone());
  }

  /**
   * Lines of a table that begins so.
   *
   * @param name what to call the table where its columns do not suffice
   * @param first the first line: the names of columns, or a JSON object
   * @param mapping which column says what, as JSON; empty where their names say it
   * @throws FaultException if nothing says when and between whom
   */
  public static TableLines of(String name, String first, String mapping, ZoneId zone) {
    String head = first.startsWith("\uFEFF") ? first.substring(1) : first;
    boolean isJson = head.stripLeading().startsWith("{");
    char separator = isJson ? 0 : LogTable.separator(head);
    List<String> columns = isJson ? List.copyOf(object(head).keySet()) : csv(head, separator);
    LogMapping use =
        mapping.isBlank() ? LogMapping.guess(columns, zone) : LogTable.mapping(mapping, zone);
    LogTable.demandColumns(name, use, columns);
    return new TableLines(isJson ? null : columns, separator, use);
  }

  /** The names of the columns that are read. */
  public Map<LogField, String> mapped() {
    return mapping.columns();
  }

  /**
   * The record on a line.
   *
   * @throws LogRecords.FieldException saying what cannot be read
   */
  public TrafficRecord record(String line) {
    if (columns == null) {
      Map<String, String> values = object(line);
      return records.of(field -> values.get(mapping.columns().get(field)));
    }
    List<String> cells = csv(line, separator);
    return records.of(
        field -> {
          int place = columns.indexOf(mapping.columns().get(field));
          return place < 0 || place >= cells.size() ? null : cells.get(place);
        });
  }

  /** The values of a JSON object, by name; none where a line is none. */
  private static Map<String, String> object(String line) {
    Map<String, String> values = new LinkedHashMap<>();
    try {
      LogTable.flatten("", JSON.readTree(line), values);
    } catch (JsonProcessingException e) {
      values.clear();
    }
    return values;
  }

  private static List<String> csv(String line, char separator) {
    if (line.indexOf('"') < 0) {
      return LogTable.cells(line, separator);
    }
    CSVFormat format = CSVFormat.RFC4180.builder().setDelimiter(separator).setTrim(true).get();
    try (CSVParser rows = CSVParser.parse(line, format)) {
      return rows.stream().findFirst().map(row -> List.of(row.values())).orElse(List.of());
    } catch (IOException | IllegalArgumentException | java.io.UncheckedIOException e) {
      return List.of();
    }
  }
}
