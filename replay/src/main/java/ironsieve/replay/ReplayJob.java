package ironsieve.replay;

import static org.apache.spark.sql.functions.col;
import static org.apache.spark.sql.functions.max;
import static org.apache.spark.sql.functions.min;
import static org.apache.spark.sql.functions.sum;
import static org.apache.spark.sql.functions.udf;

import ironsieve.files.CsvCells;
import ironsieve.files.FaultException;
import ironsieve.traffic.file.TableLines;
import ironsieve.traffic.log.LogField;
import ironsieve.traffic.log.LogMapping;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.RandomAccessFile;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import org.apache.spark.broadcast.Broadcast;
import org.apache.spark.sql.Column;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Encoder;
import org.apache.spark.sql.Encoders;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.SaveMode;
import org.apache.spark.sql.SparkSession;
import org.apache.spark.sql.api.java.UDF1;
import org.apache.spark.sql.expressions.UserDefinedFunction;
import org.apache.spark.sql.functions;
import org.apache.spark.sql.types.DataTypes;
import org.apache.spark.sql.types.StructType;

/** Files shared out, and the sums of all shares added up and written. */
final class ReplayJob {

  private static final Encoder<Row> ROW = Encoders.row(Sums.ROW);

  private static final byte[] PARQUET = {'P', 'A', 'R', '1'};

  private final SparkSession spark;
  private final Broadcast<Sent> sent;
  private final String mapping;
  private final List<String> unreadable = new ArrayList<>();

  ReplayJob(SparkSession spark, Sent sent, String mapping) {
    this.spark = spark;
    this.sent =
        spark.sparkContext().broadcast(sent, scala.reflect.ClassTag$.MODULE$.apply(Sent.class));
    this.mapping = mapping;
  }

  /** Files that cannot be opened at all; nothing of them is in the result. */
  List<String> unreadable() {
    return unreadable;
  }

  /** What all files under a path come to, one row for each kind and key. */
  Dataset<Row> run(Path in) {
    Map<String, List<String>> byFirstLine = new LinkedHashMap<>();
    List<String> flows = new ArrayList<>();
    List<String> parquet = new ArrayList<>();
    for (Path file : files(in)) {
      String name = file.getFileName().toString();
      String path = path(file).replaceAll("[\\\\{}\\[\\]*?]", "\\\\$0");
      if (name.endsWith(".parquet")) {
        if (isParquet(file)) {
          parquet.add(path);
        }
      } else if (name.endsWith(".ipfix")) {
        flows.add(path);
      } else {
        firstLine(file)
            .ifPresent(
                line -> byFirstLine.computeIfAbsent(line, any -> new ArrayList<>()).add(path));
      }
    }
    List<Dataset<Row>> shares = new ArrayList<>();
    byFirstLine.forEach(
        (first, paths) -> {
          try {
            shares.add(lines(first, paths));
          } catch (FaultException e) {
            // One file that is none, such as a note beside the others, takes nothing from the rest.
            paths.forEach(
                path ->
                    unreadable.add(
                        path.substring("file:".length()) + ": " + e.faults().get(0).sentence()));
          }
        });
    shares.addAll(tables(parquet));
    if (!flows.isEmpty()) {
      shares.add(
          spark
              .read()
              .format("binaryFile")
              .load(flows.toArray(String[]::new))
              .select("path", "content")
              .mapPartitions(new Share(sent, Share.Shape.FLOWS, "", mapping), ROW));
    }
    if (shares.isEmpty()) {
      throw new IllegalArgumentException(
          in
              + " holds no file that can be read: CSV, JSON lines, Parquet (.parquet) or IPFIX (.ipfix)"
              + (unreadable.isEmpty() ? "" : "; " + String.join("; ", unreadable)));
    }
    Dataset<Row> all = shares.stream().reduce(Dataset::union).orElseThrow();
    Column[] keys =
        Stream.concat(
                Stream.of(col("kind")),
                IntStream.rangeClosed(1, Sums.KEYS).mapToObj(k -> col("key" + k)))
            .toArray(Column[]::new);
    return all.groupBy(keys)
        .agg(
            sum("connections").as("connections"),
            sum("bytes_up").as("bytes_up"),
            sum("bytes_down").as("bytes_down"),
            min("first").as("first"),
            max("last").as("last"));
  }

  /** A path as the engine writes it: no blank is spelt out. */
  private static String path(Path file) {
    return "file:" + file.toAbsolutePath();
  }

  /** Whether a file ends as it should; else it is none, or was cut off. */
  private boolean isParquet(Path file) {
    byte[] end = new byte[PARQUET.length];
    try (RandomAccessFile in = new RandomAccessFile(file.toFile(), "r")) {
      in.seek(Math.max(0, in.length() - end.length));
      in.readFully(end);
    } catch (IOException e) {
      unreadable.add(file + ": " + e.getMessage());
      return false;
    }
    if (!Arrays.equals(end, PARQUET)) {
      unreadable.add(file + ": this is no Parquet file, or its end is missing");
      return false;
    }
    return true;
  }

  private List<Path> files(Path in) {
    try (Stream<Path> all = Files.walk(in)) {
      return all.filter(Files::isRegularFile)
          .filter(file -> !file.getFileName().toString().matches("[._].*"))
          .sorted()
          .toList();
    } catch (IOException e) {
      throw new UncheckedIOException(in + " cannot be read", e);
    }
  }

  private java.util.Optional<String> firstLine(Path file) {
    if (file.toString().endsWith(".gz") && !isWhole(file)) {
      return java.util.Optional.empty();
    }
    try (InputStream raw = Files.newInputStream(file);
        InputStream in = file.toString().endsWith(".gz") ? new GZIPInputStream(raw) : raw;
        BufferedReader lines =
            new BufferedReader(new InputStreamReader(in, StandardCharsets.UTF_8))) {
      String line = lines.readLine();
      while (line != null && line.isBlank()) {
        line = lines.readLine();
      }
      return java.util.Optional.ofNullable(line);
    } catch (IOException e) {
      unreadable.add(file + ": " + e.getMessage());
      return java.util.Optional.empty();
    }
  }

  /** Whether a compressed file can be read to its end; else the engine would give all files up. */
  private boolean isWhole(Path file) {
    try (InputStream in = new GZIPInputStream(Files.newInputStream(file), 1 << 16)) {
      in.transferTo(OutputStream.nullOutputStream());
      return true;
    } catch (IOException e) {
      unreadable.add(file + ": it is damaged or cut off: " + e.getMessage());
      return false;
    }
  }

  private Dataset<Row> lines(String first, List<String> paths) {
    // Said at once and not by a thousand tasks: which column is missing.
    TableLines.of(paths.get(0), first, mapping, sent.value().zone());
    return spark
        .read()
        .text(paths.toArray(String[]::new))
        .mapPartitions(new Share(sent, Share.Shape.LINE, first, mapping), ROW);
  }

  /** Tables of the same columns are read together, for a folder may hold thousands of files. */
  private List<Dataset<Row>> tables(List<String> paths) {
    Map<StructType, List<String>> bySchema = new LinkedHashMap<>();
    for (String path : paths) {
      try {
        bySchema
            .computeIfAbsent(spark.read().parquet(path).schema(), any -> new ArrayList<>())
            .add(path);
      } catch (Exception e) {
        // The engine throws checked exceptions that it does not declare.
        unreadable.add(path + ": " + String.valueOf(e.getMessage()).split("\n")[0]);
      }
    }
    List<Dataset<Row>> shares = new ArrayList<>();
    bySchema.forEach((schema, all) -> shares.add(table(schema, all)));
    return shares;
  }

  private Dataset<Row> table(StructType schema, List<String> paths) {
    Dataset<Row> read = spark.read().schema(schema).parquet(paths.toArray(String[]::new));
    String header = String.join(",", read.columns());
    Map<LogField, String> mapped =
        TableLines.of(paths.get(0), header, mapping, sent.value().zone()).mapped();
    Dataset<Row> table = withConstants(read, mapped.values());
    Column[] plain =
        mapped.values().stream()
            .distinct()
            .map(name -> col("`" + name + "`"))
            .toArray(Column[]::new);
    return Batches.of(sent, table.select(plain), mapped)
        .map(rows -> spark.createDataFrame(rows.toJavaRDD(), Sums.ROW))
        .orElseGet(() -> rows(table, mapped));
  }

  /** What a mapping says of all lines becomes a column like any other. */
  private static Dataset<Row> withConstants(Dataset<Row> table, Iterable<String> columns) {
    Dataset<Row> with = table;
    for (String column : columns) {
      if (LogMapping.constant(column).isPresent()) {
        with = with.withColumn(column, functions.lit(LogMapping.constant(column).get()));
      }
    }
    return with;
  }

  private Dataset<Row> rows(Dataset<Row> table, Map<LogField, String> mapped) {
    List<Column> columns = new ArrayList<>();
    mapped.forEach(
        (field, name) ->
            columns.add(col("`" + name + "`").cast(DataTypes.StringType).as(field.name())));
    return table
        .select(columns.toArray(Column[]::new))
        .mapPartitions(new Share(sent, Share.Shape.COLUMNS, "", mapping), ROW);
  }

  /** One of the results by the names of its keys. */
  static Dataset<Row> part(Dataset<Row> all, String kind, String... names) {
    List<Column> columns = new ArrayList<>();
    for (int k = 0; k < names.length; k++) {
      columns.add(col("key" + (k + 1)).as(names[k]));
    }
    columns.add(col("connections"));
    if (!kind.equals(Sums.UNREAD) && !kind.equals(Sums.POSSIBLE)) {
      columns.add(col("bytes_up"));
      columns.add(col("bytes_down"));
    }
    if (kind.equals(Sums.HITS)) {
      columns.add(col("first"));
      columns.add(col("last"));
    }
    return all.filter(col("kind").equalTo(kind)).select(columns.toArray(Column[]::new));
  }

  /** The same with cells that no spreadsheet runs as a formula. */
  private static Dataset<Row> forSpreadsheets(Dataset<Row> part) {
    UserDefinedFunction written =
        udf((UDF1<String, String>) CsvCells::format, DataTypes.StringType);
    Column[] cells =
        Arrays.stream(part.schema().fields())
            .map(
                field -> {
                  Column cell = col(field.name());
                  return field.dataType().equals(DataTypes.StringType)
                      ? written.apply(cell).as(field.name())
                      : cell;
                })
            .toArray(Column[]::new);
    return part.select(cells);
  }

  /** Writes all results. */
  static void write(Dataset<Row> all, Path out, boolean asCsv) {
    Map<String, Dataset<Row>> parts = new LinkedHashMap<>();
    Dataset<Row> possible =
        part(all, Sums.POSSIBLE, "rule").withColumnRenamed("connections", "possible");
    parts.put(
        "hits",
        part(all, Sums.HITS, "rule")
            .join(
                possible,
                scala.jdk.javaapi.CollectionConverters.asScala(List.of("rule")).toSeq(),
                "full_outer")
            .na()
            .fill(0L)
            .orderBy(col("connections").desc(), col("rule")));
    parts.put(
        "changed",
        part(all, Sums.CHANGED, "connection", "before", "after", "rules_before", "rules_after")
            .orderBy(col("connections").desc(), col("connection")));
    parts.put(
        "views",
        part(all, Sums.VIEWS, "by", "value")
            .orderBy(col("by"), col("connections").desc(), col("value")));
    parts.put("hours", part(all, Sums.HOURS, "hour").orderBy(col("hour")));
    parts.put(
        "unread",
        part(all, Sums.UNREAD, "reason").orderBy(col("connections").desc(), col("reason")));
    parts.put(
        "unread-examples",
        part(all, Sums.EXAMPLE, "reason", "example").drop("connections", "bytes_up", "bytes_down"));
    parts.forEach(
        (name, part) -> {
          Dataset<Row> one = part.coalesce(1);
          one.write().mode(SaveMode.Overwrite).parquet(path(out.resolve(name)));
          if (asCsv) {
            forSpreadsheets(one)
                .write()
                .mode(SaveMode.Overwrite)
                .option("header", true)
                .option("escape", "\"")
                .csv(path(out.resolve(name + ".csv")));
          }
        });
  }
}
