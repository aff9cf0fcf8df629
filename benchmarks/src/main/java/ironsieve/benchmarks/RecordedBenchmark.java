package ironsieve.benchmarks;

import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Space;
import ironsieve.model.Connection;
import ironsieve.model.Rulebase;
import ironsieve.progress.Progress;
import ironsieve.recorded.LineBlock;
import ironsieve.recorded.RecordedDecisions;
import ironsieve.recorded.TapeColumns;
import ironsieve.recorded.Traffic;
import ironsieve.traffic.file.TapeFile;
import ironsieve.traffic.signature.SignatureMatcher;
import ironsieve.traffic.view.By;
import ironsieve.traffic.view.Narrowing;
import ironsieve.traffic.view.TrafficView;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.TimeUnit;

/**
 * A month of recorded traffic ({@link RecordedTape}) and a grown rulebase of 10,000 rules: decided
 * from scratch beside the bare index and beside reading the rules from the top, and after an edit.
 */
final class RecordedBenchmark {

  private static final int ROUNDS = 3;
  private static final int RULES = 10_000;
  private static final int APPLICATIONS = 400;

  private RecordedBenchmark() {}

  private static double best(Runnable work) {
    double best = Double.MAX_VALUE;
    for (int i = 0; i < ROUNDS; i++) {
      best = Math.min(best, seconds(work));
    }
    return best;
  }

  private static double seconds(Runnable work) {
    long begin = System.nanoTime();
    work.run();
    return (System.nanoTime() - begin) / 1e9;
  }

  static void run(int lines) throws IOException {
    Rulebase rulebase = Grown.rulebase(RULES, APPLICATIONS, 7);
    CompiledRulebase compiled =
        CompiledRulebase.of(rulebase, Generated.environment(2_000, APPLICATIONS));
    List<Connection> conversations = RecordedTape.conversations(compiled, lines);
    TapeColumns tape = RecordedTape.columns(conversations, lines);
    System.out.printf(
        Locale.ROOT,
        "tape: %,d lines, %,d connections, %,d conversations, %,d MB in blocks%n",
        tape.lines(),
        tape.times(),
        tape.conversations().count(),
        tape.blocks().stream().mapToLong(block -> block.bytes().limit()).sum() >> 20);
    decided(compiled, tape, conversations);
    edits(rulebase, compiled, tape);
    views(compiled, tape);
    Path file = Files.createTempFile("sieve-bench", ".csv");
    try {
      RecordedTape.write(conversations, lines, file);
      loaded(compiled, file, tape);
    } finally {
      Files.delete(file);
    }
  }

  /** A log read into columns, beside only splitting its lines. */
  private static void loaded(CompiledRulebase compiled, Path file, TapeColumns expected)
      throws IOException {
    double[] split = {0};
    split[0] =
        seconds(
            () -> {
              try (BufferedReader lines = Files.newBufferedReader(file)) {
                long cells = 0;
                for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                  cells += line.split(",").length;
                }
                if (cells == 0) {
                  throw new AssertionError("an empty file");
                }
              } catch (IOException e) {
                throw new UncheckedIOException(e);
              }
            });
    TapeColumns[] made = new TapeColumns[1];
    double ours =
        seconds(
            () ->
                made[0] =
                    new TapeFile(
                            compiled.space().environment(),
                            new SignatureMatcher(List.of(), Map.of()),
                            new Progress())
                        .read("month", file, TapeFile.Before.NOTHING, "")
                        .tape());
    System.out.printf(
        Locale.ROOT,
        "log of %,d MB read into columns: %.1f s (%.2f million lines/s), %.2f times only splitting its lines; %,d lines, connections %s%n",
        Files.size(file) >> 20,
        ours,
        expected.lines() / ours / 1e6,
        ours / split[0],
        made[0].lines(),
        made[0].times() == expected.times() ? "equal" : "DIFFER");
  }

  /** Charts of everything, narrowed by any two of a few, each asked for the first time. */
  private static void views(CompiledRulebase compiled, TapeColumns tape) {
    RecordedDecisions decisions = RecordedDecisions.of(compiled, Traffic.ofColumns(List.of(tape)));
    TrafficView view = new TrafficView(compiled.space().environment(), decisions);
    List<By> charts =
        List.of(
            By.APPLICATION,
            By.CATEGORY,
            By.RECOGNISED,
            By.PERSON,
            By.GROUP,
            By.FROM_ZONE,
            By.TO_ZONE,
            By.SERVICE,
            By.RULE,
            By.VERDICT,
            By.SOURCE,
            By.HOST,
            By.SITE,
            By.DEVICE,
            By.FEATURE,
            By.TAPE);
    Map<By, String> largest = new EnumMap<>(By.class);
    double whole =
        seconds(
            () ->
                charts.forEach(
                    by -> largest.put(by, view.bars(by, Narrowing.NONE, false).get(0).value())));
    List<Double> narrowed = new ArrayList<>();
    for (By one : charts) {
      for (By other : charts) {
        if (one.compareTo(other) < 0) {
          Narrowing narrowing =
              new Narrowing(
                  Map.of(one, Set.of(largest.get(one)), other, Set.of(largest.get(other))),
                  null,
                  null);
          narrowed.add(
              1e3
                  * seconds(
                      () -> {
                        view.addUp(charts, narrowing);
                        charts.forEach(by -> view.top(by, narrowing, false, 12));
                      }));
        }
      }
    }
    System.out.printf(
        Locale.ROOT,
        "the page's sixteen charts of all, first time: %.0f ms; narrowed by two, ms median / 95th / worst of %d: %s%n",
        whole * 1e3,
        narrowed.size(),
        Main.spread(narrowed));
  }

  private static void decided(
      CompiledRulebase compiled, TapeColumns tape, List<Connection> conversations) {
    Traffic traffic = Traffic.ofColumns(List.of(tape));
    RecordedDecisions.of(compiled, traffic);
    double all = best(() -> RecordedDecisions.of(compiled, traffic));
    double withPlaces =
        best(() -> RecordedDecisions.of(compiled, Traffic.ofColumns(List.of(tape))));
    // The common pool's workers take no part where the work runs in a pool of one.
    ForkJoinPool alone = new ForkJoinPool(1);
    double[] one = {0};
    try {
      one[0] = alone.submit(() -> best(() -> RecordedDecisions.of(compiled, traffic))).get();
      alone.shutdown();
      alone.awaitTermination(1, TimeUnit.MINUTES);
    } catch (InterruptedException | java.util.concurrent.ExecutionException e) {
      throw new IllegalStateException(e);
    }
    Space space = compiled.space();
    int[][] points =
        conversations.stream().limit(1_000_000).map(space::point).toArray(int[][]::new);
    Batches batches = Batches.of(List.of(points));
    double bare = best(() -> batches.decided(compiled.index())) / points.length;
    int few = 20_000;
    double linear =
        seconds(
                () -> {
                  long sum = 0;
                  for (int i = 0; i < few; i++) {
                    sum += Main.linear(compiled.rules(), points[i * (points.length / few)]);
                  }
                  if (sum == Long.MIN_VALUE) {
                    throw new AssertionError("never");
                  }
                })
            / few;
    double each = one[0] / tape.lines();
    System.out.printf(
        Locale.ROOT,
        "hits from scratch: %.2f s on all cores (%.2f s where places are found too), %.2f s on one: %.1f million lines/s;"
            + " bare index %.1f million/s (%.2f times ours); from the top %,.0f/s, ours %,.0f times that%n",
        all,
        withPlaces,
        one[0],
        1e-6 / each,
        1e-6 / bare,
        each / bare,
        1 / linear,
        linear / each);
  }

  private static void edits(Rulebase rulebase, CompiledRulebase compiled, TapeColumns tape) {
    Traffic traffic = Traffic.ofColumns(List.of(tape));
    RecordedDecisions before = RecordedDecisions.of(compiled, traffic);
    Random random = new Random(5);
    List<Double> hits = new ArrayList<>();
    List<Double> changes = new ArrayList<>();
    long changed = 0;
    boolean isIdentical = true;
    for (int round = -1; round < 10; round++) {
      for (int kind = 0; kind < 6; kind++) {
        Rulebase after = Main.edited(rulebase, kind, 10 + random.nextInt(RULES - 10), round);
        CompiledEdit edit = CompiledEdit.of(compiled, after);
        long begin = System.nanoTime();
        RecordedDecisions next = before.after(edit);
        next.hits();
        double decided = (System.nanoTime() - begin) / 1e6;
        RecordedDecisions.Changes told = before.changedBy(next, 20);
        double all = (System.nanoTime() - begin) / 1e6;
        changed += told.count();
        if (round >= 0) {
          hits.add(decided);
          changes.add(all);
        }
        if (round == 9) {
          RecordedDecisions scratch =
              RecordedDecisions.of(
                  CompiledRulebase.of(after, compiled.space().environment()), traffic);
          isIdentical &=
              scratch.hits().counts().equals(next.hits().counts()) && same(next, scratch);
        }
      }
    }
    System.out.printf(
        Locale.ROOT,
        "sixty edits, ms median / 95th / worst: hits of the new revision %s, and what they change of recorded traffic %s; %,d lines get another verdict in all; identical %s%n",
        Main.spread(hits),
        Main.spread(changes),
        changed,
        isIdentical);
  }

  private static boolean same(RecordedDecisions one, RecordedDecisions other) {
    int[] codes = new int[LineBlock.MOST];
    int[] others = new int[LineBlock.MOST];
    for (int b = 0; b < one.traffic().tapes().get(0).blocks().size(); b++) {
      one.codes(0, b, codes);
      other.codes(0, b, others);
      for (int i = 0; i < one.traffic().tapes().get(0).blocks().get(b).count(); i++) {
        if (!one.decision(codes[i]).equals(other.decision(others[i]))) {
          return false;
        }
      }
    }
    return true;
  }
}
