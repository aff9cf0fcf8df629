package ironsieve.replay;

import java.nio.file.Path;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Locale;
import org.apache.spark.SparkConf;
import org.apache.spark.sql.SaveMode;
import org.apache.spark.sql.SparkSession;

/**
 * A log as Parquet, dropped through a rulebase on one processor and on two, beside the engine only
 * reading it and counting by one column.
 */
public final class ReplayBenchmark {

  private static final int ROUNDS = 2;

  private ReplayBenchmark() {}

  /** The log as CSV, the company and the rulebase. */
  public static void main(String[] arguments) {
    Path log = Path.of(arguments[0]).toAbsolutePath();
    Path parquet = log.resolveSibling("month.parquet");
    Sent sent =
        Sent.of(
            Path.of(arguments[1]),
            Path.of(arguments[2]),
            null,
            0,
            LocalDate.of(2026, 11, 23),
            ZoneId.of("UTC"));
    for (int cores = 1; cores <= 2; cores++) {
      SparkConf conf =
          new SparkConf()
              .setMaster("local[" + cores + "]")
              .setAppName("bench")
              .set("spark.ui.enabled", "false")
              .set("spark.sql.files.maxPartitionBytes", "32m")
              .set("spark.sql.shuffle.partitions", "8");
      SparkSession spark = SparkSession.builder().config(conf).getOrCreate();
      if (cores == 1) {
        spark
            .read()
            .option("header", true)
            .csv(log.toString())
            .repartition(8)
            .write()
            .mode(SaveMode.Overwrite)
            .parquet(parquet.toString());
      }
      long lines = spark.read().parquet(parquet.toString()).count();
      double counting = Double.MAX_VALUE;
      double ours = Double.MAX_VALUE;
      for (int round = 0; round < ROUNDS; round++) {
        counting =
            Math.min(
                counting,
                seconds(
                    () ->
                        spark
                            .read()
                            .parquet(parquet.toString())
                            .groupBy("Application")
                            .count()
                            .collectAsList()));
        ours =
            Math.min(
                ours, seconds(() -> new ReplayJob(spark, sent, "").run(parquet).collectAsList()));
      }
      System.out.printf(
          Locale.ROOT,
          "%d processors: %,d lines in %.1f s, %,.0f a second; only read and counted by one column %.2f s, ours %.1f times that; heap %d MB%n",
          cores,
          lines,
          ours,
          lines / ours,
          counting,
          ours / counting,
          Runtime.getRuntime().maxMemory() >> 20);
      spark.stop();
    }
  }

  private static double seconds(Runnable work) {
    long begin = System.nanoTime();
    work.run();
    return (System.nanoTime() - begin) / 1e9;
  }
}
