package ironsieve.traffic.file;

import ironsieve.files.FaultException;
import ironsieve.traffic.log.LogField;
import ironsieve.traffic.log.LogMapping;
import ironsieve.traffic.log.LogRecords;
import ironsieve.traffic.tape.TrafficRecord;
import java.io.IOException;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import org.apache.commons.csv.CSVParser;

/**
 * Lines of a table one by one and in any order, for whoever reads parts of a file: CSV, whose first
 * line is known, or JSON. As {@link TapeFile} reads them, but that a cell in quotes ends with its
 * line. For one thread.
 */
public final class TableLines {

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
    List<String> columns = isJson ? LogTable.object(head).columns() : csv(head, separator);
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
    LogTable.Row row =
        columns == null
            ? LogTable.object(line)
            : new LogTable.OfCells(columns, csv(line, separator));
    return LogTable.record(row, mapping, records);
  }

  private static List<String> csv(String line, char separator) {
    if (line.indexOf('"') < 0) {
      return LogTable.cells(line, separator);
    }
    try (CSVParser rows = CSVParser.parse(line, LogTable.format(separator))) {
      return rows.stream().findFirst().map(row -> List.of(row.values())).orElse(List.of());
    } catch (IOException | IllegalArgumentException | java.io.UncheckedIOException e) {
      return List.of();
    }
  }
}
