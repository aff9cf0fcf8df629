package ironsieve.replay;

import static org.apache.spark.sql.functions.col;
import static org.apache.spark.sql.functions.count;
import static org.apache.spark.sql.functions.sum;

import ironsieve.files.Fault;
import ironsieve.files.FaultException;
import ironsieve.text.FileTextException;
import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.apache.spark.SparkConf;
import org.apache.spark.scheduler.SparkListener;
import org.apache.spark.scheduler.SparkListenerStageSubmitted;
import org.apache.spark.scheduler.SparkListenerTaskEnd;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.SparkSession;
import org.apache.spark.storage.StorageLevel;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** The command {@code sieve replay}. */
@Command(
    name = "sieve replay",
    mixinStandardHelpOptions = true,
    description =
        "Drops recorded traffic of any size through a rulebase, on this machine or on a cluster.")
public final class ReplayMain implements Callable<Integer> {

  private static final int FINE = 0;
  private static final int MISSING = 1;
  private static final int UNREADABLE = 2;
  private static final int UNWANTED = 3;

  @Option(names = "--rulebase", required = true, paramLabel = "FILE", description = "the rulebase")
  private Path rulebase;

  @Option(
      names = "--against",
      paramLabel = "FILE",
      description = "another one; connections with another verdict are listed")
  private Path against;

  @Option(
      names = "--company",
      paramLabel = "DIR",
      defaultValue = "${sys:iron-sieve.company:-demo}",
      description = "the folder with company.json; ${DEFAULT-VALUE}")
  private Path company;

  @Option(
      names = "--in",
      required = true,
      paramLabel = "PATH",
      description = "a file or a folder of CSV, JSON lines, Parquet (.parquet) and IPFIX (.ipfix)")
  private Path in;

  @Option(
      names = "--out",
      required = true,
      paramLabel = "DIR",
      description =
          "gets hits, changed, views, hours and unread as Parquet; what was there is replaced")
  private Path out;

  @Option(
      names = "--progress",
      description = "prints a line \"progress DONE TOTAL\" as each part of the work is done")
  private boolean tellsProgress;

  @Option(
      names = "--with",
      paramLabel = "PID",
      description = "ends, without a result, when this process of the same machine does")
  private Long with;

  @Option(
      names = "--work",
      paramLabel = "DIR",
      description =
          "what is written on the way goes there; removed with all in it when --with ends")
  private Path work;

  @Option(names = "--csv", description = "writes the results as CSV too")
  private boolean asCsv;

  @Option(
      names = "--mapping",
      paramLabel = "JSON",
      defaultValue = "",
      description = "which column says what, such as {\"from\": \"Source IP\"}")
  private String mapping;

  @Option(
      names = "--edition",
      paramLabel = "N",
      defaultValue = "0",
      description = "the catalogue edition; the company's own")
  private int edition;

  @Option(names = "--day", paramLabel = "DATE", description = "the day it is; today")
  private LocalDate day;

  @Option(names = "--zone", paramLabel = "ZONE", description = "of times that say no offset")
  private ZoneId zone = ZoneId.systemDefault();

  @Option(
      names = "--master",
      paramLabel = "URL",
      defaultValue = "local[*,4]",
      description = "a cluster, such as spark://HOST:7077; this machine alone")
  private String master;

  @Option(
      names = "--conf",
      paramLabel = "NAME=VALUE",
      description = "a setting of the engine; may stand several times")
  private List<String> settings = List.of();

  /**
   * Runs it; the exit code is 1 where files are missing from the result, 2 where nothing was done,
   * 3 where the process that asked for it has ended.
   */
  public static void main(String[] arguments) {
    System.exit(new CommandLine(new ReplayMain()).execute(arguments));
  }

  @Override
  public Integer call() {
    try {
      return run();
    } catch (FaultException e) {
      return refused(e.faults().stream().map(Fault::sentence).collect(Collectors.joining("\n")));
    } catch (FileTextException | IllegalArgumentException | UncheckedIOException e) {
      return refused(e.getMessage());
    } catch (RuntimeException e) {
      throw e;
    } catch (Exception e) {
      // What the engine throws it does not declare; the first line says which file, if it is one.
      return refused(
          "the job ended without a result: " + String.valueOf(e.getMessage()).split("\n")[0]);
    }
  }

  private static final int MOST_ROUNDS = 1_000;

  private static int refused(String why) {
    System.err.println(why);
    return UNREADABLE;
  }

  private int run() throws Exception {
    if (!Files.exists(in)) {
      return refused(in + " cannot be read; is there such a file or folder?");
    }
    if (with != null && !endsWith(with)) {
      return refused("there is no process " + with + " that waits for this");
    }
    Sent sent =
        Sent.of(company, rulebase, against, edition, day == null ? LocalDate.now() : day, zone);
    // Starting the engine takes seconds; one that runs here already with that master is kept.
    boolean isOwn = !isRunning();
    SparkSession spark = SparkSession.builder().config(settings()).getOrCreate();
    try {
      Builds.demandSame(spark);
      if (tellsProgress) {
        spark.sparkContext().addSparkListener(new Parts());
      }
      ReplayJob job = new ReplayJob(spark, sent, mapping);
      Dataset<Row> all = job.run(in.toAbsolutePath()).persist(StorageLevel.MEMORY_AND_DISK());
      ReplayJob.write(all, out.toAbsolutePath(), asCsv);
      tell(all);
      job.unreadable().forEach(file -> System.err.println("not in the result: " + file));
      return job.unreadable().isEmpty() ? FINE : MISSING;
    } finally {
      if (isOwn) {
        spark.stop();
      }
    }
  }

  /**
   * Whether there is an engine with our master; one with another is stopped, for one it must be.
   */
  private boolean isRunning() {
    if (SparkSession.getDefaultSession().isEmpty()) {
      return false;
    }
    SparkSession running = SparkSession.getDefaultSession().get();
    boolean isOurs = running.sparkContext().master().equals(master);
    if (!isOurs) {
      running.stop();
    }
    return isOurs;
  }

  /** Ends this machine when a process does, leaving nothing behind; false if there is none. */
  private boolean endsWith(long process) {
    Optional<ProcessHandle> asking = ProcessHandle.of(process);
    asking.ifPresent(
        one ->
            one.onExit()
                .thenRun(
                    () -> {
                      removeWork();
                      // What the engine does at an end in order may take it minutes.
                      Runtime.getRuntime().halt(UNWANTED);
                    }));
    return asking.isPresent();
  }

  /** What the engine still writes meanwhile is removed in the next round. */
  private void removeWork() {
    for (int round = 0; work != null && Files.exists(work) && round < MOST_ROUNDS; round++) {
      try (Stream<Path> all = Files.walk(work)) {
        all.sorted(Comparator.reverseOrder()).forEach(path -> path.toFile().delete());
      } catch (IOException | UncheckedIOException e) {
        // Something in it went while it was walked over.
      }
    }
    if (work != null && Files.exists(work)) {
      System.err.println(work + " could not be removed");
    }
  }

  /** Tells how many tasks are done of those that are known so far. */
  private static final class Parts extends SparkListener {
    private int done;
    private int total;

    @Override
    public void onStageSubmitted(SparkListenerStageSubmitted stage) {
      total += stage.stageInfo().numTasks();
      tell();
    }

    @Override
    public void onTaskEnd(SparkListenerTaskEnd task) {
      if (task.taskInfo().successful()) {
        done++;
        tell();
      }
    }

    private void tell() {
      System.out.println("progress " + done + " " + Math.max(done, total));
    }
  }

  private SparkConf settings() {
    SparkConf conf =
        new SparkConf()
            .setMaster(master)
            .setAppName("Iron Sieve replay")
            .set("spark.ui.enabled", "false")
            .set("spark.sql.session.timeZone", zone.getId())
            .set("spark.sql.files.maxPartitionBytes", "32m")
            .set("spark.sql.shuffle.partitions", "8");
    if (work != null) {
      conf.set("spark.local.dir", work.resolve("engine").toAbsolutePath().toString());
    }
    if (master.startsWith("local")) {
      // Nobody else has anything to do with it.
      conf.set("spark.driver.bindAddress", "127.0.0.1").set("spark.driver.host", "127.0.0.1");
    } else {
      conf.set("spark.jars", jars());
      // A cluster has older ones of some of our libraries; our classes get those they are made for.
      conf.set("spark.executor.userClassPathFirst", "true");
    }
    for (String setting : settings) {
      int at = setting.indexOf('=');
      if (at < 1) {
        throw new IllegalArgumentException("a setting reads NAME=VALUE, not " + setting);
      }
      conf.set(setting.substring(0, at), setting.substring(at + 1));
    }
    return conf;
  }

  /** Our own jars, which a cluster does not have. */
  private static String jars() {
    return Arrays.stream(System.getProperty("java.class.path").split(File.pathSeparator))
        .filter(
            path ->
                path.endsWith(".jar") && !path.contains(File.separator + "engine" + File.separator))
        .map(path -> Path.of(path).toAbsolutePath().toUri().toString())
        .collect(Collectors.joining(","));
  }

  private void tell(Dataset<Row> all) {
    System.out.printf("%-40s %14s %18s%n", "rule", "connections", "bytes");
    for (Row row :
        ReplayJob.part(all, Sums.HITS, "rule")
            .orderBy(col("connections").desc())
            .limit(20)
            .collectAsList()) {
      System.out.printf(
          "%-40s %14d %18d%n", row.getString(0), row.getLong(1), row.getLong(2) + row.getLong(3));
    }
    if (against != null) {
      Row changed =
          ReplayJob.part(all, Sums.CHANGED, "connection")
              .agg(sum("connections"), count("connection"))
              .first();
      Row besides =
          ReplayJob.part(all, Sums.CHANGED, "connection", "before", "after")
              .filter(
                  org.apache.spark.sql.functions.expr(
                      "split(before, ' ')[0] = split(after, ' ')[0]"))
              .agg(sum("connections"))
              .first();
      System.out.printf(
          "%d connections (%d lines) get another verdict than by %s; of these %d the same with"
              + " another lane or notice%n",
          changed.isNullAt(0) ? 0 : changed.getLong(0),
          changed.getLong(1),
          against.getFileName(),
          besides.isNullAt(0) ? 0 : besides.getLong(0));
    }
    System.out.println("all of it stands in " + out);
  }
}
