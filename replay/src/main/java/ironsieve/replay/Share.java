package ironsieve.replay;

import ironsieve.traffic.file.TableLines;
import ironsieve.traffic.log.Ipfix;
import ironsieve.traffic.log.LogField;
import ironsieve.traffic.log.LogRecords;
import java.util.Iterator;
import java.util.List;
import org.apache.spark.api.java.function.MapPartitionsFunction;
import org.apache.spark.broadcast.Broadcast;
import org.apache.spark.sql.Row;

/**
 * What one share of the files comes to: its rows as records, put into columns, decided, and added
 * up.
 */
final class Share implements MapPartitionsFunction<Row, Row> {

  private static final long serialVersionUID = 1L;

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
    SumBatch adding = new SumBatch(sent.value());
    switch (shape) {
      case LINE -> lines(rows, adding);
      case COLUMNS -> columns(rows, adding);
      case FLOWS -> rows.forEachRemaining(row -> flows(row, adding));
    }
    adding.decide();
    return adding.rows();
  }

  private void lines(Iterator<Row> rows, SumBatch adding) {
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

  private void columns(Iterator<Row> rows, SumBatch adding) {
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

  private static void flows(Row row, SumBatch adding) {
    byte[] all = row.getAs("content");
    String path = row.getAs("path");
    Ipfix ipfix = new Ipfix(adding.zone());
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
    ipfix.finish(adding::add);
    long unread = ipfix.unreadable() + ipfix.withoutTemplate();
    if (unread > 0) {
      adding.unread("flow records", path + " has messages or records that cannot be read", unread);
    }
  }
}
