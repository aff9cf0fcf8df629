package ironsieve.benchmarks;

import com.microsoft.z3.BoolExpr;
import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRule;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.decide.Decider;
import ironsieve.impact.Comparison;
import ironsieve.impact.Impact;
import ironsieve.model.Chapter;
import ironsieve.model.Connection;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.region.Box;
import ironsieve.review.Budget;
import ironsieve.review.Finding;
import ironsieve.review.Review;
import ironsieve.review.Reviewer;
import ironsieve.text.ValueText;
import java.lang.ref.Reference;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.function.ToIntFunction;
import java.util.function.ToLongFunction;
import java.util.stream.IntStream;

/**
 * Compile, review and decide on generated rulebases of 100, 1,000 and 5,000 rules of two shapes,
 * each beside a plain twin: a review that compares every pair of rules field by field, and a
 * decision that reads the rules from the top. Times are the best of a few rounds; what counts is
 * the ratio.
 */
public final class Main {

  private static final int APPLICATIONS = 400;
  private static final int PEOPLE = 2_000;

  private static final int FRESH = 1_000_000;
  private static final int BOXES = 4_000;

  /** Up to so many rules are compared pair by pair. */
  private static final int MOST_PAIRS = 10_000;

  /** So long decision diagrams are waited for. */
  private static final long PATIENCE = Duration.ofMinutes(3).toNanos();

  private Main() {}

  /** What a rulebase looks like. */
  private enum Shape {
    /** Narrow rules in chapters, nearly all of them reached. */
    GROWN {
      @Override
      Rulebase of(int size) {
        return Grown.rulebase(size, APPLICATIONS, 7);
      }
    },
    /** One rule in fifty is broad, so that most of those below are never reached. */
    BROAD {
      @Override
      Rulebase of(int size) {
        return Generated.rulebase(size, APPLICATIONS, 7);
      }
    };

    abstract Rulebase of(int size);

    String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /**
   * Sizes may be given as arguments; or {@code workspace} and how many rulebases one is to have; or
   * {@code traffic} and how many megabytes of it; or {@code recorded} and how many lines; or {@code
   * server} with its address, a large rulebase there and a log; {@code month} with company,
   * rulebase, lines and file only writes a log.
   */
  public static void main(String[] arguments) throws java.io.IOException, InterruptedException {
    if (arguments.length > 0 && arguments[0].equals("workspace")) {
      LargeWorkspace.measure(arguments.length > 1 ? Integer.parseInt(arguments[1]) : 200);
      return;
    }
    if (arguments.length > 0 && arguments[0].equals("traffic")) {
      TrafficBenchmark.run(arguments.length > 1 ? Long.parseLong(arguments[1]) : 500);
      return;
    }
    if (arguments.length > 0 && arguments[0].equals("month")) {
      RecordedTape.write(
          Path.of(arguments[1]),
          Path.of(arguments[2]),
          Integer.parseInt(arguments[3]),
          Path.of(arguments[4]));
      return;
    }
    if (arguments.length > 0 && arguments[0].equals("server")) {
      ServerBenchmark.run(arguments[1], arguments[2], Path.of(arguments[3]));
      return;
    }
    if (arguments.length > 0 && arguments[0].equals("recorded")) {
      RecordedBenchmark.run(arguments.length > 1 ? Integer.parseInt(arguments[1]) : 10_000_000);
      return;
    }
    List<Integer> sizes =
        arguments.length == 0
            ? List.of(100, 1_000, 5_000)
            : java.util.Arrays.stream(arguments).map(Integer::valueOf).toList();
    Environment environment = Generated.environment(PEOPLE, APPLICATIONS);
    System.out.printf(
        "Java %s, %d processors, %d people, %d applications%n",
        System.getProperty("java.version"),
        Runtime.getRuntime().availableProcessors(),
        PEOPLE,
        APPLICATIONS);
    System.out.println(
        "shape  rules  reached  compile ms  review ms  findings  undetermined  pairwise ms  decisions/s   together/s  linear/s  ratios");
    for (Shape shape : Shape.values()) {
      for (int size : sizes) {
        measure(shape, size, environment);
      }
    }
    System.out.println(
        "shape  rules  edit         impact ms  review again ms  review of whole ms  ratio  identical  10,000 promises ms");
    for (Shape shape : Shape.values()) {
      for (int size : sizes) {
        afterAnEdit(shape, size, environment);
      }
    }
    System.out.println(
        "shape  rules  sixty edits: impact ms median / 95th / worst   review again ms median / 95th / worst  identical");
    for (Shape shape : Shape.values()) {
      for (int size : sizes) {
        sixtyEdits(shape, size, environment);
      }
    }
    if (sizes.contains(10_000)) {
      memory();
    }
    System.out.println(
        "shape  rules  unreached by diagrams ms  unreached here ms  ratio  whole review ms  ratio  identical");
    for (Shape shape : Shape.values()) {
      for (int size : sizes) {
        besideDiagrams(shape, size, environment);
      }
    }
    System.out.println(
        "rules  solver, all in one ms  one by one ms  here ms  ratios  identical; answers alone / with what they need");
    for (int size : List.of(50, 100, 200)) {
      besideSolver(size);
    }
    System.out.println(
        "pairwise: only finds rules wholly inside one other rule; review: finds covers by several, shares, witnesses.");
  }

  private static void measure(Shape shape, int size, Environment environment) {
    Rulebase rulebase = shape.of(size);
    int rounds = size <= 1_000 ? 7 : 3;
    Timed<CompiledRulebase> compiled =
        best(rounds, () -> CompiledRulebase.of(rulebase, environment));
    // A fresh compile each round: the index remembers what it was asked.
    Timed<Review> review =
        best(
            rounds,
            () -> CompiledRulebase.of(rulebase, environment),
            fresh -> Reviewer.review(fresh, Budget.USUAL));
    // Beyond that it takes minutes.
    Timed<Integer> pairwise =
        best(size <= MOST_PAIRS ? rounds : 0, () -> pairwise(compiled.result()));
    // What the reviews left behind lies between what is asked for now.
    System.gc();
    double single =
        fresh(compiled.result(), FRESH, points -> points, each(compiled.result()::firstMatch));
    double together =
        fresh(
            compiled.result(),
            FRESH,
            Batches::of,
            batches -> batches.decided(compiled.result().index()));
    double slow =
        fresh(
            compiled.result(),
            20_000,
            points -> points,
            each(point -> linear(compiled.result().rules(), point)));
    check(compiled.result(), points(compiled.result(), 20_000, 3));
    long reached =
        review.result().residues().values().stream()
            .filter(residue -> residue.share().value() > 0)
            .count();
    long undetermined =
        review.result().findings().stream()
            .filter(finding -> finding.kind() == Finding.Kind.UNDETERMINED)
            .count();
    System.out.printf(
        Locale.ROOT,
        "%-5s  %5d  %5.1f %%  %10.1f  %9.1f  %8d  %12d  %11.1f  %11.0f  %11.0f  %8.0f  %4.0f× %4.0f×%n",
        shape.word(),
        size,
        100.0 * reached / size,
        compiled.millis(),
        review.millis(),
        review.result().findings().size(),
        undetermined,
        pairwise.result() == null ? Double.NaN : pairwise.millis(),
        single,
        together,
        slow,
        single / slow,
        together / slow);
  }

  /**
   * Two edits – a rule moved up by ten places, and one given an address nobody named before – each
   * with its impact and its review, and ten thousand kept probes run again. The reviews are
   * compared with one from scratch.
   */
  private static void afterAnEdit(Shape shape, int size, Environment environment) {
    Rulebase before = shape.of(size);
    CompiledRulebase compiled = CompiledRulebase.of(before, environment);
    Review review = Reviewer.review(compiled, Budget.USUAL);
    List<Rule> moved = new ArrayList<>(before.rules());
    moved.add(size / 2 - 10, moved.remove(size / 2));
    List<Rule> renewed = new ArrayList<>(before.rules());
    renewed.set(size / 2, withAddress(renewed.get(size / 2), "10.3.77.5"));
    for (List<Rule> rules : List.of(moved, renewed)) {
      Rulebase after =
          new Rulebase(
              "after",
              List.of(new Chapter("all", "All", "", rules)),
              before.parts(),
              before.defaultVerdict());
      Timed<Impact> impact =
          best(40, () -> Comparison.of(CompiledEdit.of(compiled, after), 300_000));
      Timed<Review> again =
          best(40, () -> Reviewer.again(review, CompiledEdit.of(compiled, after)));
      Timed<Review> scratch =
          best(2, () -> Reviewer.review(CompiledRulebase.of(after, environment), Budget.USUAL));
      Decider decider = new Decider(again.result().compiled());
      List<Connection> promised =
          points(again.result().compiled(), 10_000, 3).stream()
              .map(again.result().compiled().space()::sample)
              .toList();
      Timed<Long> kept =
          best(
              5,
              () ->
                  promised.stream()
                      .filter(c -> decider.outcome(c).verdict() == Verdict.ALLOW)
                      .count());
      System.out.printf(
          Locale.ROOT,
          "%-5s  %5d  %-11s  %9.1f  %15.1f  %18.1f  %4.0f×  %-9s  %18.1f%n",
          shape.word(),
          size,
          rules == moved ? "moved" : "new address",
          impact.millis(),
          again.millis(),
          scratch.millis(),
          scratch.millis() / again.millis(),
          findingTexts(again.result()).equals(findingTexts(scratch.result())),
          kept.millis());
    }
  }

  private static Rule withAddress(Rule rule, String address) {
    Field field = Field.is(ValueText.parse(ValueKind.NETWORK, address));
    return new Rule(
        rule.id(),
        rule.name(),
        rule.state(),
        rule.match().with(FieldName.FROM_NETWORKS, field),
        rule.then(),
        rule.metadata());
  }

  private static List<String> findingTexts(Review review) {
    return review.findings().stream()
        .map(f -> f.rule() + " " + f.kind() + " " + f.severity() + " " + review.sentence(f))
        .toList();
  }

  /** What stays in memory of the surroundings, the compiled rulebase and its review. */
  private static void memory() {
    Environment many = Generated.environment(50_000, 5_000);
    CompiledRulebase compiled = CompiledRulebase.of(Generated.rulebase(10_000, 5_000, 7), many);
    Review review = Reviewer.review(compiled, Budget.USUAL);
    System.gc();
    Runtime runtime = Runtime.getRuntime();
    System.out.printf(
        Locale.ROOT,
        "heap with 10,000 rules, 5,000 applications and 50,000 people, reviewed: %d MB (%d findings)%n",
        (runtime.totalMemory() - runtime.freeMemory()) >> 20,
        review.findings().size());
    Reference.reachabilityFence(compiled);
    Reference.reachabilityFence(many);
  }

  /**
   * Which rules nothing reaches, by decision diagrams over the same atoms and here, each from the
   * compiled rulebase on; and beside it the whole review.
   */
  private static void besideDiagrams(Shape shape, int size, Environment environment) {
    Rulebase rulebase = shape.of(size);
    CompiledRulebase compiled = CompiledRulebase.of(rulebase, environment);
    int rounds = size <= 1_000 ? 5 : 1;
    Timed<Optional<List<Boolean>>> diagrams =
        best(
            rounds,
            () -> {
              try (DecisionDiagrams fresh = new DecisionDiagrams(compiled.space())) {
                return fresh.unreached(compiled, PATIENCE);
              }
            });
    if (diagrams.result().isEmpty()) {
      System.out.printf(
          Locale.ROOT,
          "%-5s  %5d  not within %d minutes%n",
          shape.word(),
          size,
          Duration.ofNanos(PATIENCE).toMinutes());
      return;
    }
    Timed<Set<String>> here =
        best(
            rounds + 4,
            () -> CompiledRulebase.of(rulebase, environment),
            fresh -> Reviewer.unreached(fresh, Budget.USUAL));
    Timed<Review> review =
        best(
            rounds + 2,
            () -> CompiledRulebase.of(rulebase, environment),
            fresh -> Reviewer.review(fresh, Budget.USUAL));
    List<Boolean> found =
        compiled.rules().stream().map(rule -> here.result().contains(rule.rule().id())).toList();
    System.out.printf(
        Locale.ROOT,
        "%-5s  %5d  %24.1f  %17.1f  %4.0f×  %15.1f  %4.1f×  %s%n",
        shape.word(),
        size,
        diagrams.millis(),
        here.millis(),
        diagrams.millis() / here.millis(),
        review.millis(),
        diagrams.millis() / review.millis(),
        found.equals(diagrams.result().get()));
  }

  /**
   * Which rules nothing reaches, by a general solver and here, on the same dense rulebase: the
   * answers alone, with formulas built and the rulebase compiled before, and all of it.
   */
  private static void besideSolver(int size) {
    Environment few = Generated.environment(120, 60);
    Rulebase rulebase = Generated.dense(size, 60, 7);
    Beside solved = asked(few, rulebase, GeneralSolver::unreached);
    Beside alone = asked(few, rulebase, GeneralSolver::unreachedOneByOne);
    Timed<Set<String>> answers =
        best(
            300,
            () -> CompiledRulebase.of(rulebase, few),
            compiled -> Reviewer.unreached(compiled, Budget.USUAL));
    Timed<Set<String>> found =
        best(300, () -> Reviewer.unreached(CompiledRulebase.of(rulebase, few), Budget.USUAL));
    List<Boolean> unreached =
        rulebase.rules().stream().map(rule -> found.result().contains(rule.id())).toList();
    System.out.printf(
        Locale.ROOT,
        "%5d  %5.0f / %5.0f  %7.0f / %5.0f  %7.2f / %7.2f  %5.0f× / %4.0f×  %5.0f× / %4.0f×  %s%n",
        size,
        solved.answers().millis(),
        solved.all().millis(),
        alone.answers().millis(),
        alone.all().millis(),
        answers.millis(),
        found.millis(),
        solved.answers().millis() / answers.millis(),
        solved.all().millis() / found.millis(),
        alone.answers().millis() / answers.millis(),
        alone.all().millis() / found.millis(),
        solved.all().result().equals(unreached)
            && alone.all().result().equals(unreached)
            && answers.result().equals(found.result()));
  }

  /** The solver's answers alone, and all of its work. */
  private record Beside(Timed<List<Boolean>> answers, Timed<List<Boolean>> all) {}

  private static Beside asked(
      Environment environment,
      Rulebase rulebase,
      BiFunction<GeneralSolver, List<BoolExpr>, List<Boolean>> question) {
    try (GeneralSolver ready = new GeneralSolver(environment)) {
      List<BoolExpr> claims = ready.claims(rulebase.rules());
      return new Beside(
          best(3, () -> question.apply(ready, claims)),
          best(
              3,
              () -> {
                try (GeneralSolver fresh = new GeneralSolver(environment)) {
                  return question.apply(fresh, fresh.claims(rulebase.rules()));
                }
              }));
    }
  }

  private record Timed<T>(double millis, T result) {}

  private static <T> Timed<T> best(int rounds, Supplier<T> work) {
    return best(rounds, () -> 0, ignored -> work.get());
  }

  private static <S, T> Timed<T> best(
      int rounds, Supplier<S> prepare, java.util.function.Function<S, T> work) {
    double least = Double.MAX_VALUE;
    T result = null;
    for (int i = 0; i < rounds; i++) {
      S prepared = prepare.get();
      long start = System.nanoTime();
      result = work.apply(prepared);
      least = Math.min(least, (System.nanoTime() - start) / 1e6);
    }
    return new Timed<>(least, result);
  }

  /** How many rules lie wholly inside one rule above: every pair compared. */
  private static int pairwise(CompiledRulebase compiled) {
    int inside = 0;
    for (CompiledRule rule : compiled.rules()) {
      for (CompiledRule above : compiled.rules().subList(0, rule.index())) {
        if (rule.boxes().stream().allMatch(box -> holds(above, box))) {
          inside++;
          break;
        }
      }
    }
    return inside;
  }

  private static boolean holds(CompiledRule rule, Box box) {
    for (Box candidate : rule.boxes()) {
      if (candidate.containsAll(box)) {
        return true;
      }
    }
    return false;
  }

  static int linear(List<CompiledRule> rules, int[] point) {
    for (CompiledRule rule : rules) {
      if (rule.claims(point)) {
        return rule.index();
      }
    }
    return -1;
  }

  /** Points drawn from the claims of random rules, and as many from anywhere. */
  private static List<int[]> points(CompiledRulebase compiled, int count, long seed) {
    Random random = new Random(seed);
    List<Box> everywhere = compiled.space().ahead();
    List<int[]> points = new ArrayList<>();
    List<Box> claimed = compiled.boxes();
    // A box lists its members in the time it takes to walk over its atoms, so many points share
    // one.
    List<int[][]> drawn = new ArrayList<>();
    Map<Box, int[][]> known = new IdentityHashMap<>();
    for (int i = 0; i < Math.min(count, BOXES); i++) {
      List<Box> boxes = i % 2 == 0 ? claimed : everywhere;
      Box box = boxes.get(random.nextInt(boxes.size()));
      drawn.add(known.computeIfAbsent(box, Main::sides));
    }
    for (int i = 0; i < count; i++) {
      int[][] sides = drawn.get(random.nextInt(drawn.size()));
      int[] point = new int[sides.length];
      for (int d = 0; d < point.length; d++) {
        point[d] = sides[d][random.nextInt(sides[d].length)];
      }
      points.add(point);
    }
    return points;
  }

  private static int[][] sides(Box box) {
    return IntStream.range(0, Dimension.values().length)
        .mapToObj(d -> box.side(d).members())
        .toArray(int[][]::new);
  }

  /**
   * How many points a second are decided on one core when none of them was asked for before: the
   * best of eight passes, each over points of its own.
   */
  private static <T> double fresh(
      CompiledRulebase compiled,
      int count,
      Function<List<int[]>, T> prepare,
      ToLongFunction<T> decide) {
    double best = 0;
    long sum = 0;
    for (int pass = 0; pass < 8; pass++) {
      T points = prepare.apply(points(compiled, count, 100 + pass));
      long start = System.nanoTime();
      sum += decide.applyAsLong(points);
      best = Math.max(best, count / ((System.nanoTime() - start) / 1e9));
    }
    if (sum == Long.MIN_VALUE) {
      throw new AssertionError("never; keeps the work from being optimised away");
    }
    return best;
  }

  private static ToLongFunction<List<int[]>> each(ToIntFunction<int[]> decide) {
    return points -> {
      long sum = 0;
      for (int[] point : points) {
        sum += decide.applyAsInt(point);
      }
      return sum;
    };
  }

  /**
   * Six kinds of edits in ten places each: a rule moved up by ten, switched off, taken out, given
   * another verdict, given an address nobody named before, and an exception for one person added
   * above it. The last review of each kind is compared with one from scratch.
   */
  private static void sixtyEdits(Shape shape, int size, Environment environment) {
    Rulebase before = shape.of(size);
    CompiledRulebase compiled = CompiledRulebase.of(before, environment);
    Review review = Reviewer.review(compiled, Budget.USUAL);
    Random random = new Random(5);
    List<Double> impacts = new ArrayList<>();
    List<Double> reviews = new ArrayList<>();
    Map<Rulebase, Review> last = new IdentityHashMap<>();
    for (int round = -3; round < 10; round++) {
      for (int kind = 0; kind < 6; kind++) {
        Rulebase after = edited(before, kind, 10 + random.nextInt(size - 10), round);
        Timed<Impact> impact =
            best(1, () -> Comparison.of(CompiledEdit.of(compiled, after), 300_000));
        Timed<Review> again =
            best(1, () -> Reviewer.again(review, CompiledEdit.of(compiled, after)));
        if (round >= 0) {
          // The rounds before only let the code run in.
          impacts.add(impact.millis());
          reviews.add(again.millis());
        }
        if (round == 9) {
          last.put(after, again.result());
        }
      }
    }
    // Compared only now, for the garbage of six whole reviews would fall to the edits after them.
    boolean identical =
        last.entrySet().stream()
            .allMatch(
                one ->
                    findingTexts(one.getValue())
                        .equals(
                            findingTexts(
                                Reviewer.review(
                                    CompiledRulebase.of(one.getKey(), environment),
                                    Budget.USUAL))));
    System.out.printf(
        Locale.ROOT,
        "%-5s  %5d  %s   %s  %s%n",
        shape.word(),
        size,
        spread(impacts),
        spread(reviews),
        identical);
  }

  static Rulebase edited(Rulebase before, int kind, int place, int round) {
    List<Rule> rules = new ArrayList<>(before.rules());
    Rule rule = rules.get(place);
    switch (kind) {
      case 0 -> rules.add(place - 10, rules.remove(place));
      case 1 -> rules.set(place, with(rule, Rule.State.OFF, rule.match(), rule.then().verdict()));
      case 2 -> rules.remove(place);
      case 3 ->
          rules.set(
              place,
              with(
                  rule,
                  rule.state(),
                  rule.match(),
                  rule.then().verdict() == Verdict.DENY ? Verdict.ALLOW : Verdict.DENY));
      case 4 -> rules.set(place, withAddress(rule, "10.3.77." + (20 + round)));
      default -> {
        Field person = Field.is(ValueText.parse(ValueKind.PERSON, "person." + (300 + round)));
        Rule exception = with(rule, rule.state(), rule.match(), Verdict.REJECT);
        rules.add(
            place,
            new Rule(
                "new",
                "",
                Rule.State.ON,
                exception.match().with(FieldName.PEOPLE, person),
                exception.then(),
                exception.metadata()));
      }
    }
    return new Rulebase(
        "after",
        List.of(new Chapter("all", "All", "", rules)),
        before.parts(),
        before.defaultVerdict());
  }

  private static Rule with(Rule rule, Rule.State state, Rule.Match match, Verdict verdict) {
    return new Rule(
        rule.id(),
        rule.name(),
        state,
        match,
        new Rule.Then(verdict, rule.then().logging()),
        rule.metadata());
  }

  static String spread(List<Double> millis) {
    List<Double> sorted = millis.stream().sorted().toList();
    return String.format(
        Locale.ROOT,
        "%7.1f / %7.1f / %7.1f",
        sorted.get(sorted.size() / 2),
        sorted.get(sorted.size() * 95 / 100),
        sorted.get(sorted.size() - 1));
  }

  private static void check(CompiledRulebase compiled, List<int[]> points) {
    for (int[] point : points) {
      if (compiled.firstMatch(point) != linear(compiled.rules(), point)) {
        throw new AssertionError("the index and the linear twin disagree");
      }
    }
  }
}
