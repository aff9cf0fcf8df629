package ironsieve.recorded;

import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Space;
import ironsieve.model.Outcome;
import ironsieve.model.Tape;
import ironsieve.model.Verdict;
import ironsieve.recorded.LineBlock.Column;
import ironsieve.region.Box;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.IntFunction;
import java.util.stream.IntStream;

/**
 * What a rulebase would do with each line of recorded traffic. What follows an edit is made of what
 * was before: only lines in claims that changed are decided again.
 */
public final class RecordedDecisions {

  private final CompiledRulebase compiled;
  private final Traffic traffic;
  private final CatchCodes codes;
  private final List<TapeCodes> lines;
  private final CatchSums sums;
  private final Optional<Since> since;
  private final Object identity = new Object();
  private final Map<Integer, Decision> decisions = new ConcurrentHashMap<>();

  /**
   * What was decided otherwise than before an edit.
   *
   * @param before whose decisions those were
   * @param lines for each tape the numbers of its lines
   */
  private record Since(Object before, List<long[]> lines) {}

  /**
   * What would be done with a line.
   *
   * @param rules the ids of the rules that may catch it; nothing stands for the default verdict;
   *     none where there can be no such connection
   * @param outcomes what may happen to it, lane and notice included; one where that is certain
   */
  public record Decision(List<Optional<String>> rules, Set<Outcome> outcomes) {

    public Decision {
      rules = List.copyOf(rules);
      outcomes = Set.copyOf(outcomes);
    }

    /** The verdicts it may get; one where that is certain. */
    public Set<Verdict> verdicts() {
      Set<Verdict> verdicts = EnumSet.noneOf(Verdict.class);
      outcomes.forEach(outcome -> verdicts.add(outcome.verdict()));
      return verdicts;
    }

    /** The verdict, where that is certain. */
    public Optional<Verdict> verdict() {
      Set<Verdict> verdicts = verdicts();
      return verdicts.size() == 1 ? Optional.of(verdicts.iterator().next()) : Optional.empty();
    }
  }

  /** A line that gets another verdict, or the same with another lane or notice. */
  public record Changed(Tape.Line line, Decision before, Decision after) {}

  /**
   * What gets another verdict, or the same with another lane or notice.
   *
   * @param times how many connections
   * @param besideVerdict how many of them keep their verdict
   * @param count how many lines
   * @param people whose, with how many; nobody of whom nothing is known
   * @param lines some of the lines, those seen most often first
   */
  public record Changes(
      long times, long besideVerdict, long count, Map<String, Long> people, List<Changed> lines) {}

  private RecordedDecisions(
      CompiledRulebase compiled,
      Traffic traffic,
      CatchCodes codes,
      List<TapeCodes> lines,
      CatchSums sums,
      Optional<Since> since) {
    this.compiled = compiled;
    this.traffic = traffic;
    this.codes = codes;
    this.lines = lines;
    this.sums = sums;
    this.since = since;
  }

  /** What a rulebase would do with traffic. */
  public static RecordedDecisions of(CompiledRulebase compiled, Traffic traffic) {
    CatchCodes codes = new CatchCodes();
    Deciding deciding = new Deciding(compiled, codes);
    List<Located> located = traffic.in(compiled.space());
    List<TapeCodes> all = new ArrayList<>();
    CatchSums sums = new CatchSums();
    for (int t = 0; t < located.size(); t++) {
      TapeColumns tape = traffic.tapes().get(t);
      ConversationDecisions asked = ConversationDecisions.of(tape, located.get(t), deciding);
      int[][] blocks = new int[tape.blocks().size()][];
      striped(
              blocks.length,
              stripe -> {
                CatchSums own = new CatchSums();
                BlockLines lines = new BlockLines();
                stripe.forEach(
                    b -> {
                      lines.read(tape.blocks().get(b));
                      blocks[b] = asked.codes(lines);
                      long[][] of = lines.sums();
                      for (int i = 0; i < lines.count(); i++) {
                        own.add(blocks[b][i], lines.minutes()[i], of[0][i], of[1][i], of[2][i]);
                      }
                    });
                return own;
              })
          .forEach(sums::and);
      all.add(TapeCodes.of(blocks));
    }
    return new RecordedDecisions(compiled, traffic, codes, all, sums, Optional.empty());
  }

  /** Work on the blocks of a tape, shared out among the processors; the results of each share. */
  static <T> List<T> striped(int blocks, java.util.function.Function<IntStream, T> work) {
    int stripes = Math.max(1, Math.min(blocks, Runtime.getRuntime().availableProcessors()));
    return IntStream.range(0, stripes)
        .parallel()
        .mapToObj(
            stripe -> work.apply(IntStream.iterate(stripe, b -> b < blocks, b -> b + stripes)))
        .toList();
  }

  /**
   * What the rulebase an edit makes would do with the same traffic.
   *
   * @param edit of the rulebase these are the decisions of
   */
  public RecordedDecisions after(CompiledEdit edit) {
    Optional<List<Box>> touched = edit.keepsBoxes() ? Concerned.boxes(edit) : Optional.empty();
    return touched
        .map(boxes -> after(edit.after(), boxes, touchedCodes(edit.touched())))
        .orElseGet(() -> of(edit.after(), traffic));
  }

  /** The codes that stand for something some rules catch. */
  private BitSet touchedCodes(Set<String> rules) {
    BitSet touched = new BitSet();
    for (int code = 0; code < codes.count(); code++) {
      if (codes.catches(code).stream().anyMatch(one -> rules.contains(one.rule()))) {
        touched.set(code);
      }
    }
    return touched;
  }

  private RecordedDecisions after(CompiledRulebase next, List<Box> touched, BitSet touchedCodes) {
    Deciding deciding = new Deciding(next, codes);
    Space space = next.space();
    List<Located> located = traffic.in(space);
    int[] counts = Arrays.stream(space.weights()).mapToInt(weights -> weights.count()).toArray();
    List<TapeCodes> all = new ArrayList<>();
    List<long[]> numbers = new ArrayList<>();
    CatchSums sum = sums.copy();
    BitSet unsure = new BitSet();
    for (int t = 0; t < located.size(); t++) {
      TapeColumns tape = traffic.tapes().get(t);
      int[] concerned = Concerned.conversations(tape, located.get(t), touched, counts);
      Redecided again = new Redecided(tape, located.get(t), lines.get(t), deciding, touchedCodes);
      Redecided.Result result = again.of(concerned);
      result.apply(sum, unsure);
      all.add(result.codes());
      numbers.add(result.lines());
    }
    RecordedDecisions decided =
        new RecordedDecisions(
            next, traffic, codes, all, sum, Optional.of(new Since(identity, numbers)));
    decided.findLast(unsure);
    return decided;
  }

  /**
   * Looks for the last lines of codes that lost the one they had: from the end, for blocks lie in
   * the order of time, more or less.
   */
  private void findLast(BitSet unsure) {
    BitSet open = new BitSet();
    unsure.stream().filter(code -> sums.lines(code) > 0).forEach(open::set);
    Map<Integer, Integer> last = new HashMap<>();
    int[] codeOf = new int[LineBlock.MOST];
    int[] minutes = new int[LineBlock.MOST];
    for (int t = 0; t < lines.size() && !open.isEmpty(); t++) {
      TapeColumns tape = traffic.tapes().get(t);
      List<Integer> order =
          IntStream.range(0, tape.blocks().size())
              .boxed()
              .sorted(Comparator.comparing(b -> -tape.blocks().get(b).last()))
              .toList();
      for (int b : order) {
        LineBlock block = tape.blocks().get(b);
        boolean isOver =
            last.size() == open.cardinality()
                && last.values().stream().allMatch(at -> at >= block.last());
        if (isOver) {
          break;
        }
        lines.get(t).read(b, codeOf);
        block.read(Column.MINUTE, minutes);
        for (int i = 0; i < block.count(); i++) {
          if (open.get(codeOf[i])) {
            last.merge(codeOf[i], minutes[i], Math::max);
          }
        }
      }
    }
    last.forEach(sums::setLast);
  }

  /** The traffic. */
  public Traffic traffic() {
    return traffic;
  }

  /** The rulebase. */
  public CompiledRulebase compiled() {
    return compiled;
  }

  /** How often each rule is hit. */
  public Hits hits() {
    return new Hits(this);
  }

  /** About how many bytes stand behind these decisions alone; what follows an edit shares most. */
  public long bytes() {
    return lines.stream().mapToLong(of -> of.bytes(since.isEmpty())).sum();
  }

  /** How many lines were decided. */
  public long lines() {
    return traffic.tapes().stream().mapToLong(TapeColumns::lines).sum();
  }

  CatchSums sums() {
    return sums;
  }

  /**
   * For each line of a block a code that stands for what is done with it; see {@link #decision}.
   *
   * @param into at least {@link LineBlock#MOST} long
   */
  public void codes(int tape, int block, int[] into) {
    lines.get(tape).read(block, into);
  }

  /** One more than the largest code. */
  public int codeCount() {
    return codes.count();
  }

  /** What is done with lines of a code. */
  public Decision decision(int code) {
    return decisions.computeIfAbsent(code, this::decided);
  }

  private Decision decided(int code) {
    Set<Outcome> outcomes = new HashSet<>();
    List<Optional<String>> rules = new ArrayList<>();
    for (CatchCodes.Catch one : codes.catches(code)) {
      if (one.rule().isEmpty()) {
        rules.add(Optional.empty());
        outcomes.add(Outcome.of(compiled.rulebase().defaultVerdict()));
      } else {
        Optional<String> id = Optional.of(one.rule());
        if (!rules.contains(id)) {
          rules.add(id);
        }
        // A rule that is gone has no lines any more.
        compiled
            .rule(one.rule())
            .ifPresent(
                rule ->
                    outcomes.add(
                        compiled.outcomeOfBox(compiled.firstBox(rule.index()) + one.box())));
      }
    }
    return new Decision(rules, outcomes);
  }

  /** The lines of a tape in order, with what is done with each. */
  public List<Decision> decisions(int tape) {
    List<Decision> all = new ArrayList<>();
    int[] own = new int[LineBlock.MOST];
    for (int b = 0; b < traffic.tapes().get(tape).blocks().size(); b++) {
      codes(tape, b, own);
      for (int i = 0; i < traffic.tapes().get(tape).blocks().get(b).count(); i++) {
        all.add(decision(own[i]));
      }
    }
    return all;
  }

  /**
   * What gets another verdict by other decisions about the same traffic.
   *
   * @param most so many lines are told at most
   * @throws IllegalArgumentException if that is other traffic
   */
  public Changes changedBy(RecordedDecisions after, int most) {
    boolean isAlike =
        after.traffic == traffic
            || after.traffic.tapes().stream()
                .map(TapeColumns::lines)
                .toList()
                .equals(traffic.tapes().stream().map(TapeColumns::lines).toList());
    if (!isAlike) {
      throw new IllegalArgumentException("these are decisions about other traffic");
    }
    boolean isFollowing =
        after.since.filter(one -> one.before() == identity).isPresent()
            && after.compiled.rulebase().defaultVerdict() == compiled.rulebase().defaultVerdict();
    ChangeCount count = new ChangeCount(this, after, most);
    for (int t = 0; t < lines.size(); t++) {
      if (isFollowing) {
        count.addLines(t, after.since.orElseThrow().lines().get(t));
      } else {
        count.addAll(t);
      }
    }
    return count.changes();
  }

  /** The code of one line. */
  public int code(int tape, int block, int line) {
    return code(tape, TapeCodes.number(block, line));
  }

  int code(int tape, long line) {
    return lines.get(tape).code(line);
  }

  /**
   * The most frequent lines with some codes.
   *
   * @param wanted whether a code is one of them
   */
  List<Tape.Line> most(IntFunction<Boolean> wanted, int most) {
    MostFrequent found = new MostFrequent(most);
    boolean[] isWanted = new boolean[codeCount()];
    for (int code = 0; code < isWanted.length; code++) {
      isWanted[code] = sums.lines(code) > 0 && wanted.apply(code);
    }
    int[] codeOf = new int[LineBlock.MOST];
    long[] times = new long[LineBlock.MOST];
    for (int t = 0; t < lines.size(); t++) {
      for (int b = 0; b < traffic.tapes().get(t).blocks().size(); b++) {
        LineBlock block = traffic.tapes().get(t).blocks().get(b);
        codes(t, b, codeOf);
        block.read(Column.TIMES, times);
        for (int i = 0; i < block.count(); i++) {
          if (isWanted[codeOf[i]]) {
            found.offer(times[i], t, b, i);
          }
        }
      }
    }
    return found.inOrder().stream()
        .map(one -> traffic.tapes().get(one.tape()).line(one.block(), one.line()))
        .toList();
  }
}
