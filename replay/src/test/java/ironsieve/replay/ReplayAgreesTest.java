package ironsieve.replay;

import static org.apache.spark.sql.functions.col;
import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Tape;
import ironsieve.progress.Progress;
import ironsieve.recorded.Hits;
import ironsieve.recorded.RecordedDecisions;
import ironsieve.recorded.Traffic;
import ironsieve.text.ProbeText;
import ironsieve.traffic.file.TapeFile;
import ironsieve.traffic.signature.SignatureMatcher;
import ironsieve.traffic.view.By;
import ironsieve.traffic.view.DecisionWords;
import ironsieve.traffic.view.Narrowing;
import ironsieve.traffic.view.TrafficView;
import java.io.BufferedReader;
import java.io.ByteArrayOutputStream;
import java.io.File;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import org.apache.spark.launcher.JavaModuleOptions;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.SparkSession;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;

/**
 * What comes of files that are shared out is what comes of the same files on one machine, line by
 * line: from each format, and on a cluster of which a worker is killed on the way.
 */
class ReplayAgreesTest {

  private static final Path DEMO = Path.of("..", "demo").toAbsolutePath().normalize();
  private static final LocalDate DAY = LocalDate.of(2026, 11, 23);
  private static final String HEADER =
      "Start,Source,Login,Destination,Protocol,Port,Application,Connections,Bytes Sent,Bytes Received";

  /**
   * An engine of this machine. Starting one takes longer than most of what is asked of it here, so
   * there is one for all; and each question is asked once, for which making code is not worth
   * while.
   */
  private static SparkSession engine() {
    return SparkSession.builder()
        .master("local[*]")
        .config("spark.ui.enabled", "false")
        .config("spark.sql.session.timeZone", "UTC")
        .config("spark.sql.shuffle.partitions", "4")
        .config("spark.sql.files.maxPartitionBytes", "32m")
        .config("spark.sql.codegen.wholeStage", "false")
        .config("spark.sql.codegen.factoryMode", "NO_CODEGEN")
        .getOrCreate();
  }

  @TempDir Path folder;

  @BeforeEach
  void start() {
    engine();
  }

  @AfterAll
  static void stop() {
    engine().stop();
  }

  /** Lines of a log; some say no person, some no application, and some cannot be read. */
  private static List<String> lines(int count, long seed) {
    Random random = new Random(seed);
    List<String> people = List.of("ines.halloran", "aksel.cray", "unidentified", "", "nobody.here");
    List<String> apps = List.of("Chatterbay", "DNS", "TLS", "", "Seaweed");
    List<String> lines = new ArrayList<>();
    for (int i = 0; i < count; i++) {
      boolean isBad = random.nextInt(50) == 0;
      lines.add(
          String.join(
              ",",
              String.format(
                  "2026-11-%02dT%02d:%02d:00",
                  2 + random.nextInt(20), random.nextInt(24), random.nextInt(3) * 20),
              isBad ? "10.20.12.400" : "10.20.12." + (1 + random.nextInt(200)),
              people.get(random.nextInt(people.size())),
              "203.0.113." + random.nextInt(50),
              random.nextInt(4) == 0 ? "udp" : "tcp",
              List.of("443", "53", "80", "25").get(random.nextInt(4)),
              apps.get(random.nextInt(apps.size())),
              String.valueOf(1 + random.nextInt(9)),
              String.valueOf(random.nextInt(1_000)),
              String.valueOf(random.nextInt(100_000))));
    }
    return lines;
  }

  /** The demo's rulebase with every deny turned, to compare with. */
  private Path other() throws IOException {
    String text = Files.readString(DEMO.resolve("rulebases/main-gateway.rules"));
    Path other = folder.resolve("other.rules");
    String turned = text.replaceAll("(?m)^  then: deny$", "  then: allow");
    assertThat(turned).isNotEqualTo(text);
    Files.writeString(other, turned);
    return other;
  }

  /** What a run printed and its exit code. */
  private record Run(int code, String printed) {}

  private Run run(String... arguments) {
    PrintStream usual = System.err;
    ByteArrayOutputStream printed = new ByteArrayOutputStream();
    System.setErr(new PrintStream(printed, true, StandardCharsets.UTF_8));
    try {
      List<String> all =
          new ArrayList<>(
              List.of(
                  "--company",
                  DEMO.toString(),
                  "--day",
                  DAY.toString(),
                  "--zone",
                  "UTC",
                  "--rulebase",
                  DEMO.resolve("rulebases/main-gateway.rules").toString()));
      all.addAll(List.of(arguments));
      int code = new CommandLine(new ReplayMain()).execute(all.toArray(String[]::new));
      return new Run(code, printed.toString(StandardCharsets.UTF_8));
    } finally {
      System.setErr(usual);
    }
  }

  /**
   * Results as plain maps: hits by rule, views by what and value, changed lines, what is unread.
   */
  private record Result(
      Map<String, List<Object>> hits,
      Map<String, List<Object>> views,
      Map<String, List<Object>> changed,
      Map<String, Long> unread) {}

  private static Result read(Path out) {
    Map<String, List<Object>> hits = new TreeMap<>();
    for (Row row : rows(out, "hits")) {
      hits.put(
          row.getAs("rule"),
          List.of(
              row.getAs("connections"),
              row.getAs("bytes_up"),
              row.getAs("bytes_down"),
              String.valueOf(row.<String>getAs("last")),
              row.getAs("possible")));
    }
    Map<String, List<Object>> views = new TreeMap<>();
    for (Row row : rows(out, "views")) {
      views.put(
          row.getAs("by") + ": " + row.getAs("value"),
          List.of(row.getAs("connections"), row.getAs("bytes_up"), row.getAs("bytes_down")));
    }
    for (Row row : rows(out, "hours")) {
      views.put(
          "hour: " + row.getAs("hour"),
          List.of(row.getAs("connections"), row.getAs("bytes_up"), row.getAs("bytes_down")));
    }
    Map<String, List<Object>> changed = new TreeMap<>();
    for (Row row : rows(out, "changed")) {
      changed.merge(
          row.getAs("connection") + " " + row.getAs("before") + ">" + row.getAs("after"),
          List.of(row.<Long>getAs("connections")),
          (a, b) -> List.of((long) a.get(0) + (long) b.get(0)));
    }
    Map<String, Long> unread = new TreeMap<>();
    for (Row row : rows(out, "unread")) {
      unread.put(row.getAs("reason"), row.getAs("connections"));
    }
    return new Result(hits, views, changed, unread);
  }

  private static List<Row> rows(Path out, String name) {
    return engine().read().parquet(out.resolve(name).toString()).collectAsList();
  }

  /** The same by one machine, from one file. */
  private Result alone(Path file, Path against) {
    Sent.Compiled with =
        Sent.of(
                DEMO,
                DEMO.resolve("rulebases/main-gateway.rules"),
                against,
                0,
                DAY,
                ZoneId.of("UTC"))
            .compiled();
    TapeFile.Made made =
        new TapeFile(with.environment(), new SignatureMatcher(List.of(), Map.of()), new Progress())
            .read("alone", file, TapeFile.Before.NOTHING, "");
    RecordedDecisions decisions =
        RecordedDecisions.of(with.rulebase(), Traffic.ofColumns(List.of(made.tape())));
    Hits found = decisions.hits();
    Map<String, List<Object>> hits = new TreeMap<>();
    Map<String, Long> possible = new HashMap<>(found.possibleCounts());
    found.depending().stream()
        .filter(one -> one.rules().contains(Optional.<String>empty()))
        .forEach(one -> possible.merge("default verdict", one.count().times(), Long::sum));
    found.counts().forEach((rule, count) -> hits.put(rule, counted(count, possible.remove(rule))));
    found
        .defaultVerdict()
        .ifPresent(
            count ->
                hits.put("default verdict", counted(count, possible.remove("default verdict"))));
    found.depending().stream()
        .map(Hits.Depending::count)
        .reduce(
            (a, b) ->
                new Hits.Count(
                    a.times() + b.times(),
                    a.volume().and(b.volume()),
                    a.last().isAfter(b.last()) ? a.last() : b.last()))
        .ifPresent(count -> hits.put("it depends", counted(count, null)));
    possible.forEach((rule, times) -> hits.put(rule, List.of(0L, 0L, 0L, "null", times)));
    Map<String, List<Object>> views = new TreeMap<>();
    TrafficView view = new TrafficView(with.environment(), decisions);
    for (By by : By.values()) {
      if (by != By.TAPE) {
        view.bars(by, Narrowing.NONE, false)
            .forEach(
                bar ->
                    views.put(
                        by.word() + ": " + bar.value(),
                        List.of(bar.sum().times(), bar.sum().up(), bar.sum().down())));
      }
    }
    for (Tape.Line line : made.tape().tape().lines()) {
      views.merge(
          "hour: " + line.connection().at().truncatedTo(ChronoUnit.HOURS),
          List.of(line.times(), line.volume().up(), line.volume().down()),
          (a, b) ->
              List.of(
                  (long) a.get(0) + (long) b.get(0),
                  (long) a.get(1) + (long) b.get(1),
                  (long) a.get(2) + (long) b.get(2)));
    }
    Map<String, List<Object>> changed = new TreeMap<>();
    with.against()
        .ifPresent(
            other ->
                RecordedDecisions.of(other, decisions.traffic())
                    .changedBy(decisions, Integer.MAX_VALUE)
                    .lines()
                    .forEach(
                        one ->
                            changed.merge(
                                ProbeText.print(one.line().connection())
                                    + " "
                                    + DecisionWords.verdict(one.before())
                                    + ">"
                                    + DecisionWords.verdict(one.after()),
                                List.of(one.line().times()),
                                (a, b) -> List.of((long) a.get(0) + (long) b.get(0)))));
    return new Result(hits, views, changed, Map.of());
  }

  private static List<Object> counted(Hits.Count count, Long possible) {
    return List.of(
        count.times(),
        count.volume().up(),
        count.volume().down(),
        count.last().toString(),
        possible == null ? 0L : possible);
  }

  private static void agree(Result shared, Result alone) {
    assertThat(shared.hits()).isEqualTo(alone.hits());
    assertThat(shared.views()).isEqualTo(alone.views());
    assertThat(shared.changed()).isEqualTo(alone.changed());
  }

  @Test
  void whatIsSharedOutIsWhatOneMachineSaysFromEachFormat() throws IOException {
    List<String> lines = lines(4_000, 3);
    Path whole = folder.resolve("whole.csv");
    Files.writeString(whole, HEADER + "\n" + String.join("\n", lines) + "\n");
    Path in = Files.createDirectory(folder.resolve("in of [1] été"));
    Files.writeString(
        in.resolve("a {b}.csv"), HEADER + "\n" + String.join("\n", lines.subList(0, 1_500)));
    // The same as JSON under other names, gzipped, and as Parquet.
    String[] names = HEADER.split(",");
    List<String> json = new ArrayList<>();
    for (String line : lines.subList(1_500, 2_500)) {
      String[] cells = line.split(",", -1);
      List<String> pairs = new ArrayList<>();
      for (int i = 0; i < cells.length; i++) {
        pairs.add("\"" + names[i] + "\": \"" + cells[i] + "\"");
      }
      json.add("{" + String.join(", ", pairs) + "}");
    }
    try (var gz =
        new java.util.zip.GZIPOutputStream(Files.newOutputStream(in.resolve("b.jsonl.gz")))) {
      gz.write(String.join("\n", json).getBytes(StandardCharsets.UTF_8));
    }
    Path part = folder.resolve("part.csv");
    Files.writeString(part, HEADER + "\n" + String.join("\n", lines.subList(2_500, 4_000)));
    engine().read().option("header", true).csv(part.toString()).write().parquet(in + "/c");
    // A file that is none is named, and everything else is done.
    Files.writeString(in.resolve("broken.parquet"), "PAR1 and no more");

    Path other = other();
    Run run =
        run(
            "--in",
            in.toString(),
            "--out",
            folder.resolve("out").toString(),
            "--against",
            other.toString(),
            "--csv");
    assertThat(run.code()).isEqualTo(1);
    assertThat(run.printed()).contains("broken.parquet");
    Result shared = read(folder.resolve("out"));
    Result alone = alone(whole, other);
    agree(shared, alone);
    assertThat(shared.changed()).isNotEmpty();
    assertThat(shared.hits()).containsKey("it depends");
    long bad = lines.stream().filter(line -> line.contains("10.20.12.400")).count();
    assertThat(shared.unread().get("from")).isEqualTo(bad).isPositive();
    assertThat(shared.unread()).containsKeys("not known: person nobody.here");
    try (var files = Files.list(folder.resolve("out/hits.csv"))) {
      assertThat(files.anyMatch(file -> file.toString().endsWith(".csv"))).isTrue();
    }
  }

  /**
   * Columns of other types than text, with and without dictionaries, of several groups of rows,
   * with gaps and with numbers that are none; and a type that is not read by columns.
   */
  @Test
  void columnsOfOtherTypesSayTheSame() throws IOException {
    List<String> lines = lines(6_000, 9);
    for (int i = 0; i < lines.size(); i += 7) {
      // Nothing is said of how many; a count below zero cannot be read.
      String[] cells = lines.get(i).split(",", -1);
      cells[7] = i % 2 == 0 ? "" : "-3";
      cells[8] = "";
      lines.set(i, String.join(",", cells));
    }
    Path whole = folder.resolve("whole.csv");
    Files.writeString(whole, HEADER + "\n" + String.join("\n", lines) + "\n");
    Path in = Files.createDirectory(folder.resolve("in"));
    Dataset<Row> texts = engine().read().option("header", true).csv(whole.toString());
    Dataset<Row> numbers =
        texts.selectExpr(
            "cast(Start as timestamp) as Start",
            "Source",
            "Login",
            "Destination",
            "Protocol",
            "cast(Port as int) as Port",
            "Application",
            "cast(Connections as bigint) as Connections",
            "cast(`Bytes Sent` as smallint) as `Bytes Sent`",
            "cast(`Bytes Received` as int) as `Bytes Received`");
    numbers
        .filter("hash(Source) % 3 = 0")
        .write()
        .option("parquet.block.size", 8_192)
        .option("parquet.page.size", 1_024)
        .parquet(in + "/dictionaries");
    numbers
        .filter("hash(Source) % 3 = 1")
        .write()
        .option("parquet.enable.dictionary", "false")
        .parquet(in + "/plain");
    texts
        .filter("hash(Source) % 3 not in (0, 1)")
        .withColumn("Connections", col("Connections").cast("decimal(12,0)"))
        .write()
        .parquet(in + "/decimals");

    Path other = other();
    Run run =
        run(
            "--in",
            in.toString(),
            "--out",
            folder.resolve("out").toString(),
            "--against",
            other.toString());
    assertThat(run.code()).isZero();
    Result shared = read(folder.resolve("out"));
    agree(shared, alone(whole, other));
    assertThat(shared.changed()).isNotEmpty();
    assertThat(shared.unread())
        .containsEntry("from", lines.stream().filter(line -> line.contains("10.20.12.400")).count())
        .containsEntry(
            "count",
            lines.stream()
                .filter(line -> line.contains(",-3,") && !line.contains("10.20.12.400"))
                .count());
  }

  @Test
  void whatCannotBeDoneIsSaid() throws IOException {
    Path in = folder.resolve("names.csv");
    Files.writeString(in, "a,b\n1,2\n");
    Run run = run("--in", in.toString(), "--out", folder.resolve("out").toString());
    assertThat(run.code()).isEqualTo(2);
    assertThat(run.printed()).contains("no column says time and from and to");
    Run missing =
        run("--in", folder.resolve("none").toString(), "--out", folder.resolve("out").toString());
    assertThat(missing.code()).isEqualTo(2);
    assertThat(missing.printed()).contains("is there such a file or folder?");
    assertThat(Files.exists(folder.resolve("out"))).isFalse();
  }

  /** A server that was killed stops nothing any more; what it asked for ends by itself. */
  @Test
  void itEndsWithTheProcessThatAskedForIt() throws Exception {
    List<String> lines = lines(2_000, 5);
    Path in = Files.createDirectory(folder.resolve("in"));
    for (int file = 0; file < 100; file++) {
      Files.writeString(in.resolve(file + ".csv"), HEADER + "\n" + String.join("\n", lines) + "\n");
    }
    Process asking = new ProcessBuilder("sleep", "600").start();
    Process replay = started(in, asking.pid());
    try (BufferedReader said = replay.inputReader(StandardCharsets.UTF_8)) {
      String line = said.readLine();
      while (line != null && !line.startsWith("progress ")) {
        line = said.readLine();
      }
      assertThat(line).as("it never began").isNotNull();
      assertThat(listening(replay.pid())).allMatch(address -> address.matches(LOOPBACK));
      assertThat(folder.resolve("work/engine")).exists();
      asking.destroyForcibly();
      assertThat(replay.waitFor()).isEqualTo(3);
    } finally {
      asking.destroyForcibly();
      replay.destroyForcibly();
    }
    assertThat(folder.resolve("out/hits")).doesNotExist();
    // What it wrote on the way holds the company's data.
    assertThat(folder.resolve("work")).doesNotExist();
    asking.waitFor();
    assertThat(run("--in", in.toString(), "--out", "out", "--with", asking.pid() + "").printed())
        .contains("there is no process " + asking.pid());
  }

  /** One bad file, or one that is none, takes nothing from the others and is named. */
  @Test
  void aBadFileAmongGoodOnesIsNamedAndTheRestIsCounted() throws IOException {
    List<String> lines = lines(300, 7);
    Path in = Files.createDirectory(folder.resolve("mixed"));
    String good = HEADER + "\n" + String.join("\n", lines) + "\n";
    Files.writeString(in.resolve("good.csv"), good);
    Files.writeString(in.resolve("readme.md"), "# What lies here\n\nOne month.\n");
    ByteArrayOutputStream packed = new ByteArrayOutputStream();
    try (java.util.zip.GZIPOutputStream gzip = new java.util.zip.GZIPOutputStream(packed)) {
      gzip.write(good.getBytes(StandardCharsets.UTF_8));
    }
    Files.write(in.resolve("cut.csv.gz"), Arrays.copyOf(packed.toByteArray(), packed.size() / 2));
    Path alone = folder.resolve("good.csv");
    Files.writeString(alone, good);
    Run mixed = run("--in", in.toString(), "--out", folder.resolve("out-mixed").toString());
    assertThat(mixed.code()).isEqualTo(1);
    assertThat(mixed.printed()).contains("readme.md", "cut.csv.gz", "damaged or cut off");
    run("--in", alone.toString(), "--out", folder.resolve("out-alone").toString());
    assertThat(read(folder.resolve("out-mixed"))).isEqualTo(read(folder.resolve("out-alone")));
  }

  private static final String LOOPBACK = "0100007F|0{24}01000000|0{16}FFFF00000100007F";

  /** The addresses that a process listens at, as the system writes them. */
  private static List<String> listening(long process) throws IOException {
    java.util.Set<String> own = new java.util.HashSet<>();
    try (java.util.stream.Stream<Path> open = Files.list(Path.of("/proc/" + process + "/fd"))) {
      for (Path one : open.toList()) {
        String to = Files.isSymbolicLink(one) ? Files.readSymbolicLink(one).toString() : "";
        if (to.startsWith("socket:[")) {
          own.add(to.substring("socket:[".length(), to.length() - 1));
        }
      }
    }
    List<String> found = new ArrayList<>();
    for (String table : List.of("/proc/net/tcp", "/proc/net/tcp6")) {
      for (String line : Files.readAllLines(Path.of(table))) {
        String[] cells = line.trim().split("\\s+");
        if (cells.length > 9 && cells[3].equals("0A") && own.contains(cells[9])) {
          found.add(cells[1].split(":")[0]);
        }
      }
    }
    return found;
  }

  private Process started(Path in, long with) throws IOException {
    List<String> command = new ArrayList<>();
    command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
    command.addAll(List.of(SmallCluster.SHORT_LIVED.split(" ")));
    command.addAll(List.of(JavaModuleOptions.defaultModuleOptions().split(" ")));
    command.addAll(List.of("-cp", String.join(File.pathSeparator, SmallCluster.classPath())));
    command.add(ReplayMain.class.getName());
    command.addAll(
        List.of(
            "--company",
            DEMO.toString(),
            "--rulebase",
            DEMO.resolve("rulebases/main-gateway.rules").toString(),
            "--in",
            in.toString(),
            "--out",
            folder.resolve("out").toString(),
            "--progress",
            "--work",
            folder.resolve("work").toString(),
            "--with",
            String.valueOf(with)));
    return new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
  }

  @Test
  void aClusterOfWhichAWorkerIsKilledOnTheWaySaysTheSame() throws Exception {
    List<String> all = new ArrayList<>();
    Path in = Files.createDirectory(folder.resolve("in"));
    for (int file = 0; file < 8; file++) {
      List<String> lines = lines(800, 100 + file);
      all.addAll(lines);
      Files.writeString(in.resolve(file + ".csv"), HEADER + "\n" + String.join("\n", lines) + "\n");
    }
    Path whole = folder.resolve("whole.csv");
    Files.writeString(whole, HEADER + "\n" + String.join("\n", all) + "\n");
    Path other = other();
    Path out = folder.resolve("out");
    try (SmallCluster cluster = new SmallCluster(folder)) {
      Thread killer =
          new Thread(
              () -> {
                try {
                  cluster.awaitTasks();
                  cluster.killFirstWorker();
                } catch (InterruptedException e) {
                  // The job ended first; that no worker is gone is found below.
                  Thread.currentThread().interrupt();
                }
              });
      killer.start();
      Run run =
          run(
              "--in",
              in.toString(),
              "--out",
              out.toString(),
              "--against",
              other.toString(),
              "--master",
              cluster.url(),
              "--conf",
              "spark.executor.memory=512m",
              "--conf",
              "spark.sql.codegen.wholeStage=false",
              "--conf",
              "spark.sql.codegen.factoryMode=NO_CODEGEN",
              "--conf",
              "spark.sql.shuffle.partitions=3",
              "--conf",
              "spark.jars=" + cluster.jarsToSend(),
              "--conf",
              "spark.sql.files.maxPartitionBytes=60k",
              "--conf",
              "spark.executor.extraJavaOptions=" + SmallCluster.SHORT_LIVED,
              // Whoever fetches from the worker that is gone does not wait for it again and again.
              "--conf",
              "spark.shuffle.io.maxRetries=1",
              "--conf",
              "spark.shuffle.io.retryWait=300ms",
              "--conf",
              "spark.locality.wait=0",
              // However busy the machine is, no task begins before both workers are there.
              "--conf",
              "spark.scheduler.minRegisteredResourcesRatio=1.0",
              "--conf",
              "spark.scheduler.maxRegisteredResourcesWaitingTime=10m",
              "--conf",
              "spark.sql.files.openCostInBytes=0",
              "--conf",
              "spark.driver.host=127.0.0.1",
              "--conf",
              "spark.eventLog.enabled=true",
              "--conf",
              "spark.eventLog.dir=" + cluster.events().toUri());
      // Where the job has failed there is nothing to wait for.
      killer.interrupt();
      killer.join();
      assertThat(run.code()).as(run.printed()).isZero();
      assertThat(cluster.isFirstWorkerGone()).isTrue();
      // It really was a cluster of two, and one of them was lost on the way.
      Set<String> executors = new HashSet<>(cluster.executorsAdded());
      assertThat(executors).hasSizeGreaterThanOrEqualTo(2);
      assertThat(cluster.executorsRemoved()).isPositive();
    }
    agree(read(out), alone(whole, other));
  }
}
