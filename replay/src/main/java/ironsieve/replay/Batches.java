package ironsieve.replay;

import ironsieve.recorded.Minutes;
import ironsieve.traffic.log.LogField;
import ironsieve.traffic.log.LogRecords;
import ironsieve.traffic.tape.TapeMaker;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.apache.spark.api.java.function.FlatMapFunction;
import org.apache.spark.broadcast.Broadcast;
import org.apache.spark.rdd.RDD;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.execution.SparkPlan;
import org.apache.spark.sql.types.DataType;
import org.apache.spark.sql.types.DataTypes;
import org.apache.spark.sql.vectorized.ColumnVector;
import org.apache.spark.sql.vectorized.ColumnarBatch;
import org.apache.spark.unsafe.Platform;
import scala.jdk.javaapi.CollectionConverters;

/**
 * What one share of a table comes to that is read column by column, as {@link Share} does it of
 * rows. Of a record only its time and its numbers are read each time; what else it says is told
 * apart by the numbers its values have in their columns, and read and found once for all records
 * that say the same.
 */
final class Batches implements FlatMapFunction<Iterator<ColumnarBatch>, Row> {

  private static final long serialVersionUID = 1L;

  private static final Set<DataType> WHOLE =
      Set.of(DataTypes.ByteType, DataTypes.ShortType, DataTypes.IntegerType, DataTypes.LongType);
  private static final Set<LogField> EACH_TIME =
      Set.of(LogField.TIME, LogField.COUNT, LogField.BYTES_UP, LogField.BYTES_DOWN);

  private final Broadcast<Sent> sent;
  private final EnumMap<LogField, Integer> places;

  private Batches(Broadcast<Sent> sent, EnumMap<LogField, Integer> places) {
    this.sent = sent;
    this.places = places;
  }

  /**
   * What comes of a table.
   *
   * @param fields which of its columns says what
   * @return nothing where the engine does not read it by columns, or a column is neither a text nor
   *     whole numbers nor, for the time, a timestamp
   */
  static Optional<RDD<Row>> of(
      Broadcast<Sent> sent, Dataset<Row> table, Map<LogField, String> fields) {
    SparkPlan plan = table.queryExecution().executedPlan();
    while (!plan.supportsColumnar()) {
      if (plan.children().size() != 1) {
        return Optional.empty();
      }
      plan = plan.children().head();
    }
    List<String> names = new ArrayList<>();
    List<DataType> types = new ArrayList<>();
    CollectionConverters.asJava(plan.output())
        .forEach(
            column -> {
              names.add(column.name());
              types.add(column.dataType());
            });
    EnumMap<LogField, Integer> places = new EnumMap<>(LogField.class);
    for (Map.Entry<LogField, String> one : fields.entrySet()) {
      int place = names.indexOf(one.getValue());
      if (place < 0 || !isReadable(one.getKey(), types.get(place))) {
        return Optional.empty();
      }
      places.put(one.getKey(), place);
    }
    return Optional.of(
        plan.executeColumnar().toJavaRDD().mapPartitions(new Batches(sent, places)).rdd());
  }

  private static boolean isReadable(LogField field, DataType type) {
    return type.equals(DataTypes.StringType)
        || WHOLE.contains(type)
        || field == LogField.TIME && type.equals(DataTypes.TimestampType);
  }

  @Override
  public Iterator<Row> call(Iterator<ColumnarBatch> batches) {
    SumBatch adding = new SumBatch(sent.value());
    Reading reading = new Reading(adding);
    while (batches.hasNext()) {
      reading.read(batches.next());
    }
    adding.decide();
    return adding.rows();
  }

  /** Reads batches one after the other. */
  private final class Reading {
    private final SumBatch adding;
    private final LogRecords records;
    private final Times times;
    private final Numbers[] numbers;
    private final List<LogField> said = new ArrayList<>();
    private final Codes[] codes;
    private final Kinds kinds;
    private TapeMaker maker;
    private ColumnarBatch batch;

    private Reading(SumBatch adding) {
      this.adding = adding;
      records = new LogRecords(adding.zone());
      times = new Times(records, adding.zone());
      places.keySet().stream().filter(field -> !EACH_TIME.contains(field)).forEach(said::add);
      codes = new Codes[said.size()];
      Arrays.setAll(codes, i -> new Codes());
      kinds = new Kinds(codes.length);
      numbers =
          new Numbers[] {
            new Numbers(LogRecords::times),
            new Numbers(text -> LogRecords.bytes(LogField.BYTES_UP, text)),
            new Numbers(text -> LogRecords.bytes(LogField.BYTES_DOWN, text))
          };
      maker = adding.maker();
    }

    private void read(ColumnarBatch next) {
      batch = next;
      int rows = batch.numRows();
      boolean isFull = false;
      for (int c = 0; c < codes.length; c++) {
        codes[c].read(column(said.get(c)), rows);
        isFull |= codes[c].isFull();
      }
      times.read(column(LogField.TIME));
      numbers[0].read(column(LogField.COUNT));
      numbers[1].read(column(LogField.BYTES_UP));
      numbers[2].read(column(LogField.BYTES_DOWN));
      for (int row = 0; row < rows; row++) {
        row(row);
      }
      if (isFull) {
        for (Codes one : codes) {
          one.forget();
        }
        kinds.forget();
      }
    }

    private void row(int row) {
      for (int c = 0; c < codes.length; c++) {
        kinds.asked[c] = codes[c].of[row];
      }
      if (maker != adding.maker()) {
        maker = adding.maker();
        kinds.forget();
      }
      try {
        // As rows are read: what is wrong with the time is told first, then who speaks with whom.
        int minute = times.minute(row);
        TapeMaker.Kind kind = kinds.known();
        if (kind == null) {
          LogRecords.Content content =
              records.content(field -> places.containsKey(field) ? text(column(field), row) : null);
          kind = maker.kind(content.ends(), content.who(), content.what());
          kinds.keep(kind);
        }
        maker.add(kind, minute, numbers[0].of(row), numbers[1].of(row), numbers[2].of(row));
      } catch (LogRecords.FieldException e) {
        adding.unread(e);
      }
      adding.decideIfMany();
    }

    /** The column that says something; null where none does. */
    private ColumnVector column(LogField field) {
      Integer place = places.get(field);
      return place == null ? null : batch.column(place);
    }
  }

  /** What stands in a column as the engine writes it as a text; null for nothing. */
  static String text(ColumnVector column, int row) {
    if (column == null || column.isNullAt(row)) {
      return null;
    }
    DataType type = column.dataType();
    return type.equals(DataTypes.StringType)
        ? column.getUTF8String(row).toString()
        : String.valueOf(whole(column, type, row));
  }

  static long whole(ColumnVector column, DataType type, int row) {
    if (type.equals(DataTypes.LongType)) {
      return column.getLong(row);
    }
    if (type.equals(DataTypes.IntegerType)) {
      return column.getInt(row);
    }
    return type.equals(DataTypes.ShortType) ? column.getShort(row) : column.getByte(row);
  }

  /** The times of a batch. */
  private static final class Times {

    private static final int LENGTH = "0000-00-00T00:00:00".length();
    private static final int TO_MINUTE = "0000-00-00T00:00".length();
    private static final long MICROS = 1_000_000;

    private final LogRecords records;
    private final ZoneId zone;
    private ColumnVector column;
    private final byte[] text = new byte[LENGTH];
    private final byte[] before = new byte[TO_MINUTE];
    private int minute;
    private long momentMinute = Long.MIN_VALUE;

    private Times(LogRecords records, ZoneId zone) {
      this.records = records;
      this.zone = zone;
    }

    private void read(ColumnVector next) {
      column = next;
    }

    private int minute(int row) {
      if (column.isNullAt(row)) {
        return Minutes.of(records.time(null));
      }
      if (column.dataType().equals(DataTypes.TimestampType)) {
        return ofMoment(Math.floorDiv(column.getLong(row), MICROS));
      }
      if (!column.dataType().equals(DataTypes.StringType)) {
        return Minutes.of(records.time(Batches.text(column, row)));
      }
      var said = column.getUTF8String(row);
      if (said.numBytes() != LENGTH) {
        return Minutes.of(records.time(said.toString()));
      }
      // Records come as they were made, so most are of the minute of the one before.
      said.writeToMemory(text, Platform.BYTE_ARRAY_OFFSET);
      if (isSeconds() && Arrays.equals(text, 0, TO_MINUTE, before, 0, TO_MINUTE)) {
        return minute;
      }
      minute = Minutes.of(records.time(said.toString()));
      System.arraycopy(text, 0, before, 0, TO_MINUTE);
      return minute;
    }

    private boolean isSeconds() {
      byte tens = text[TO_MINUTE + 1];
      byte ones = text[TO_MINUTE + 2];
      return text[TO_MINUTE] == ':' && tens >= '0' && tens <= '5' && ones >= '0' && ones <= '9';
    }

    private int ofMoment(long second) {
      if (Math.floorDiv(second, 60) != momentMinute) {
        momentMinute = Math.floorDiv(second, 60);
        LocalDateTime at = LocalDateTime.ofInstant(Instant.ofEpochSecond(second), zone);
        minute = Minutes.of(LogRecords.inRange(at));
      }
      return minute;
    }
  }

  /** Reads a text of one of the fields that are numbers. */
  private interface Parsing {
    long number(String text);
  }

  /** Numbers of a column. */
  private static final class Numbers {

    private static final int LONGEST = 15;

    private final Parsing parsing;
    private final byte[] digits = new byte[LONGEST];
    private ColumnVector column;
    private DataType type;

    private Numbers(Parsing parsing) {
      this.parsing = parsing;
    }

    private void read(ColumnVector next) {
      column = next;
      type = next == null ? null : next.dataType();
    }

    private long of(int row) {
      if (column == null || column.isNullAt(row)) {
        return parsing.number(null);
      }
      if (!type.equals(DataTypes.StringType)) {
        long number = Batches.whole(column, type, row);
        return number > 0 ? number : parsing.number(String.valueOf(number));
      }
      var said = column.getUTF8String(row);
      int length = said.numBytes();
      if (length > LONGEST) {
        return parsing.number(said.toString());
      }
      said.writeToMemory(digits, Platform.BYTE_ARRAY_OFFSET);
      long number = 0;
      for (int i = 0; i < length; i++) {
        if (digits[i] < '0' || digits[i] > '9') {
          return parsing.number(said.toString());
        }
        number = number * 10 + digits[i] - '0';
      }
      return number > 0 ? number : parsing.number(said.toString());
    }
  }
}
