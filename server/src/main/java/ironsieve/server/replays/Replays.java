package ironsieve.server.replays;

import io.quarkus.runtime.ShutdownEvent;
import ironsieve.files.FaultException;
import ironsieve.progress.Progress;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.jobs.Jobs;
import ironsieve.server.store.CompanyLoader;
import ironsieve.server.store.ReplayStore;
import ironsieve.server.store.Sql;
import ironsieve.text.RulebaseFile;
import ironsieve.text.RulebaseWriter;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CancellationException;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;

/**
 * Runs replays, one at a time on each server: each in a process of its own, so that it takes none
 * of this one's memory. Only files of one folder, which whoever starts the server names, can be
 * replayed. Safe for any number of threads.
 */
@ApplicationScoped
public class Replays {

  private static final Logger LOG = Logger.getLogger("ironsieve");
  private static final Pattern PROGRESS = Pattern.compile("progress (\\d{1,9}) (\\d{1,9})");
  private static final int MOST_TOLD = 2_000;
  private static final int FINE = 0;
  private static final int WITHOUT_SOME_FILES = 1;
  private static final String NOT_IN_RESULT = "not in the result: ";

  @Inject Editor editor;
  @Inject CompanyLoader company;
  @Inject ReplayStore store;
  @Inject Sql sql;
  @Inject Clock clock;

  /** Where the files lie that can be replayed. */
  @ConfigProperty(name = "iron-sieve.replay.folder")
  Optional<Path> folder;

  /** The command that runs one: the path of {@code sieve}. */
  @ConfigProperty(name = "iron-sieve.replay.command")
  Optional<Path> command;

  /** The cluster that does the work; this machine alone, unless it is said. */
  @ConfigProperty(name = "iron-sieve.replay.master")
  Optional<String> master;

  @Inject Jobs jobs;

  private final Semaphore turn = new Semaphore(1);
  private volatile Process running;
  private volatile boolean isEnding;

  void onStop(@Observes ShutdownEvent event) {
    isEnding = true;
    Process now = running;
    if (now != null) {
      now.destroy();
    }
  }

  /** Whether replays can be run here at all. */
  public boolean isPossible() {
    return folder.filter(Files::isDirectory).isPresent() && command.isPresent();
  }

  /** What can be replayed through a rulebase; the same for each that there is. */
  public List<Recordings.Source> sources(String rulebase) {
    editor.snapshot(rulebase);
    return isPossible() ? Recordings.in(folder.orElseThrow()) : List.of();
  }

  /** The replays of a rulebase, the newest first. */
  public List<ReplayStore.Kept> of(String rulebase) {
    editor.snapshot(rulebase);
    return store.of(rulebase);
  }

  /** What came of one. */
  public ReplayResult result(String rulebase, int number) {
    return store
        .result(rulebase, number)
        .map(json -> sql.read(json, ReplayResult.class))
        .orElseThrow(() -> missing(rulebase, number));
  }

  /** Takes one out; where it runs, it is stopped within a second. */
  public void remove(String rulebase, int number) {
    if (!store.remove(rulebase, number)) {
      throw missing(rulebase, number);
    }
  }

  private UnknownException missing(String rulebase, int number) {
    return UnknownException.of(
        "replay",
        String.valueOf(number),
        of(rulebase).stream().map(one -> String.valueOf(one.number())).toList());
  }

  /**
   * Begins one of the newest revision, behind.
   *
   * @param path one of {@link #sources}
   * @param against an older revision to compare with, if there is one
   * @return its number
   * @throws FaultException if there is no such file, or another replay is running on this server
   */
  public int start(String rulebase, String who, String path, Optional<Long> against) {
    if (!isPossible()) {
      throw new FaultException(
          "replay", "", "this server was started without files to replay, or without the command");
    }
    List<String> paths = sources(rulebase).stream().map(Recordings.Source::path).toList();
    if (!paths.contains(path)) {
      throw UnknownException.fault("replay", "source", "file to replay", path, paths);
    }
    RulebaseSnapshot now = editor.snapshot(rulebase);
    Optional<RulebaseSnapshot> before = against.map(revision -> editor.at(rulebase, revision));
    if (!turn.tryAcquire()) {
      throw new FaultException(
          "replay", "", "another replay is running on this server; wait for it, or stop it");
    }
    try {
      int number = store.begin(rulebase, who, new ReplayStore.Asked(path, now.revision(), against));
      Thread thread = new Thread(() -> run(rulebase, number, who, path, now, before), "replay");
      thread.setDaemon(true);
      thread.start();
      return number;
    } catch (RuntimeException e) {
      turn.release();
      throw e;
    }
  }

  private void run(
      String rulebase,
      int number,
      String who,
      String path,
      RulebaseSnapshot now,
      Optional<RulebaseSnapshot> before) {
    Path work = null;
    Progress progress = new Progress();
    long job = jobs.begin(Jobs.Kind.REPLAY, "replay of " + path, who, progress);
    try {
      work = Files.createTempDirectory("iron-sieve-replay");
      finish(
          rulebase,
          number,
          work,
          follow(rulebase, number, process(work, path, now, before), progress));
    } catch (CancellationException e) {
      failed(rulebase, number, e.getMessage());
    } catch (IOException | RuntimeException e) {
      jobs.fail(Jobs.Kind.REPLAY, "replay of " + path, who, e);
      failed(rulebase, number, "it could not be run: " + e.getMessage());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } finally {
      jobs.end(job);
      turn.release();
      remove(work);
    }
  }

  private Process process(
      Path work, String path, RulebaseSnapshot now, Optional<RulebaseSnapshot> before)
      throws IOException {
    for (Map.Entry<String, String> file : company.surroundings().entrySet()) {
      Path to = work.resolve("company").resolve(file.getKey());
      Files.createDirectories(to.getParent());
      Files.writeString(to, file.getValue());
    }
    List<String> line =
        new ArrayList<>(
            List.of(
                command.orElseThrow().toAbsolutePath().toString(),
                "replay",
                "--rulebase",
                writeRulebase(work.resolve("new.rules"), now),
                "--company",
                work.resolve("company").toString(),
                "--in",
                folder.orElseThrow().resolve(path).toAbsolutePath().toString(),
                "--out",
                work.resolve("out").toString(),
                "--day",
                LocalDate.now(clock).toString(),
                "--zone",
                clock.getZone().getId(),
                "--csv",
                "--progress",
                "--with",
                String.valueOf(ProcessHandle.current().pid()),
                "--work",
                work.toString()));
    if (before.isPresent()) {
      line.addAll(List.of("--against", writeRulebase(work.resolve("old.rules"), before.get())));
    }
    master.ifPresent(url -> line.addAll(List.of("--master", url)));
    ProcessBuilder builder =
        new ProcessBuilder(line).redirectError(work.resolve("errors").toFile());
    // The passwords of the database are nobody's business.
    builder.environment().keySet().removeIf(name -> name.startsWith("IRON_SIEVE_"));
    return builder.start();
  }

  private static String writeRulebase(Path file, RulebaseSnapshot snapshot) throws IOException {
    Files.writeString(file, RulebaseWriter.write(RulebaseFile.of(snapshot.compiled().rulebase())));
    return file.toString();
  }

  /** Tells every second how far it is, until it ends or nobody wants it any more. */
  private Process follow(String rulebase, int number, Process process, Progress progress)
      throws IOException, InterruptedException {
    running = process;
    int[] told = new int[2];
    Thread reader =
        new Thread(
            () -> {
              try (BufferedReader lines =
                  new BufferedReader(
                      new java.io.InputStreamReader(
                          process.getInputStream(), StandardCharsets.UTF_8))) {
                for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                  Matcher counted = PROGRESS.matcher(line);
                  if (counted.matches()) {
                    synchronized (told) {
                      told[0] = Integer.parseInt(counted.group(1));
                      told[1] = Integer.parseInt(counted.group(2));
                    }
                  }
                }
              } catch (IOException e) {
                LOG.debug("the replay was ended", e);
              }
            },
            "replay progress");
    reader.setDaemon(true);
    reader.start();
    try {
      boolean isWanted = true;
      while (!process.waitFor(1, TimeUnit.SECONDS)) {
        int done;
        int total;
        synchronized (told) {
          done = told[0];
          total = told[1];
        }
        isWanted = isWanted && !progress.isStopped() && store.tell(rulebase, number, done, total);
        if (!isWanted || isEnding) {
          process.destroy();
        }
      }
      progress.check();
      return process;
    } finally {
      process.destroyForcibly();
      running = null;
    }
  }

  private void finish(String rulebase, int number, Path work, Process process) throws IOException {
    List<String> errors =
        Files.exists(work.resolve("errors"))
            ? Files.readAllLines(work.resolve("errors"), StandardCharsets.UTF_8)
            : List.of();
    int code = process.exitValue();
    if (code != FINE && code != WITHOUT_SOME_FILES || !Files.isDirectory(work.resolve("out"))) {
      String said = isEnding ? "the server was stopped" : String.join(" ", errors);
      failed(
          rulebase,
          number,
          said.isBlank()
              ? "it ended without a result"
              : said.substring(Math.max(0, said.length() - MOST_TOLD)));
      return;
    }
    List<String> missing =
        errors.stream()
            .filter(line -> line.startsWith(NOT_IN_RESULT))
            .map(line -> line.substring(NOT_IN_RESULT.length()))
            .toList();
    store.end(
        rulebase,
        number,
        Optional.of(sql.json(ReplayResult.read(work.resolve("out"), missing))),
        missing.isEmpty() ? "" : missing.size() + " of its files could not be read");
  }

  private void failed(String rulebase, int number, String why) {
    try {
      store.end(rulebase, number, Optional.empty(), why.replace("\0", ""));
    } catch (RuntimeException e) {
      LOG.error("it could not be kept that a replay failed", e);
    }
  }

  private static void remove(Path folder) {
    if (folder == null) {
      return;
    }
    try (Stream<Path> all = Files.walk(folder)) {
      all.sorted(Comparator.reverseOrder()).forEach(path -> path.toFile().delete());
    } catch (IOException | UncheckedIOException e) {
      LOG.debug("a folder could not be removed", e);
    }
  }
}
