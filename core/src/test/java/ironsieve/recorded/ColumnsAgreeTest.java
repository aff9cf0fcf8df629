package ironsieve.recorded;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.Edits;
import ironsieve.Rulebases;
import ironsieve.World;
import ironsieve.compile.CompiledEdit;
import ironsieve.compile.CompiledRulebase;
import ironsieve.model.Connection;
import ironsieve.model.Environment;
import ironsieve.model.Rulebase;
import ironsieve.model.Tape;
import ironsieve.recorded.LineBlock.Column;
import ironsieve.recorded.RecordedDecisions.Decision;
import java.lang.ref.WeakReference;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

/** Columns say what the lines said, and decisions that follow edits are those from scratch. */
class ColumnsAgreeTest {

  /** A rulebase, and others to take rules from. */
  private record Start(World world, Rulebase rulebase, List<Rulebase> others) {}

  @Provide
  Arbitrary<Start> starts() {
    return World.any()
        .flatMap(
            world ->
                Combinators.combine(
                        Rulebases.random(world, 9), Rulebases.random(world, 5).list().ofSize(4))
                    .as((rulebase, others) -> new Start(world, rulebase, others)));
  }

  @Property(tries = 500)
  void whatFollowsEditsIsWhatIsDecidedFromScratch(
      @ForAll("starts") Start start, @ForAll long seed) {
    Environment environment = start.world().environment();
    Random random = new Random(seed);
    Traffic traffic =
        Traffic.ofColumns(
            List.of(
                TapeColumns.inBlocks(tape(start.world(), random, 25), 1 + random.nextInt(9)),
                TapeColumns.of(tape(start.world(), random, 5))));
    CompiledRulebase compiled = CompiledRulebase.of(start.rulebase(), environment);
    RecordedDecisions decisions = RecordedDecisions.of(compiled, traffic);
    Rulebase rulebase = start.rulebase();
    for (Rulebase other : start.others()) {
      rulebase = Edits.some(rulebase, other, random);
      CompiledEdit edit = CompiledEdit.of(compiled, rulebase);
      compiled = edit.after();
      RecordedDecisions next = decisions.after(edit);
      RecordedDecisions scratch =
          RecordedDecisions.of(CompiledRulebase.of(rulebase, environment), traffic);
      List<Tape.Line> changed = new ArrayList<>();
      long keep = 0;
      for (int tape = 0; tape < 2; tape++) {
        List<Decision> said = next.decisions(tape);
        assertThat(said).isEqualTo(scratch.decisions(tape));
        List<Tape.Line> lines = traffic.tapes().get(tape).tape().lines();
        for (int i = 0; i < said.size(); i++) {
          Decision was = decisions.decisions(tape).get(i);
          if (!said.get(i).outcomes().equals(was.outcomes())) {
            changed.add(lines.get(i));
            keep += said.get(i).verdicts().equals(was.verdicts()) ? lines.get(i).times() : 0;
          }
        }
      }
      RecordedDecisions.Changes changes = decisions.changedBy(next, 100);
      assertThat(changes.lines())
          .extracting(RecordedDecisions.Changed::line)
          .containsExactlyInAnyOrderElementsOf(changed);
      assertThat(changes.times()).isEqualTo(changed.stream().mapToLong(Tape.Line::times).sum());
      assertThat(changes.besideVerdict()).isEqualTo(keep);
      assertThat(changes.people()).isEqualTo(people(changed));
      agree(next.hits(), scratch.hits());
      decisions = next;
    }
  }

  private static Map<String, Long> people(List<Tape.Line> lines) {
    Map<String, Long> people = new HashMap<>();
    for (Tape.Line line : lines) {
      line.connection()
          .from()
          .person()
          .ifPresent(login -> people.merge(login, line.times(), Long::sum));
    }
    return people;
  }

  private static void agree(Hits hits, Hits scratch) {
    assertThat(hits.counts()).isEqualTo(scratch.counts());
    assertThat(hits.defaultVerdict()).isEqualTo(scratch.defaultVerdict());
    assertThat(hits.impossible()).isEqualTo(scratch.impossible());
    assertThat(hits.possibleCounts()).isEqualTo(scratch.possibleCounts());
    for (String rule : scratch.counts().keySet()) {
      assertThat(hits.caughtBy(rule, 3)).isEqualTo(scratch.caughtBy(rule, 3));
      assertThat(hits.lines(rule)).isEqualTo(scratch.lines(rule));
    }
  }

  private static Tape tape(World world, Random random, int count) {
    List<Tape.Line> lines = new ArrayList<>();
    for (int i = 0; i < count; i++) {
      Set<Tape.Unsaid> unsaid = EnumSet.noneOf(Tape.Unsaid.class);
      for (Tape.Unsaid one : Tape.Unsaid.values()) {
        if (random.nextInt(8) == 0) {
          unsaid.add(one);
        }
      }
      lines.add(
          new Tape.Line(
              world.points().get(random.nextInt(world.points().size())).connection(),
              1 + random.nextInt(9),
              new Tape.Volume(random.nextInt(500), random.nextLong(1L << 40)),
              unsaid,
              Tape.NO_SAMPLE));
    }
    return new Tape("seen", lines);
  }

  @Property(tries = 150)
  void columnsSayWhatTheLinesSaid(@ForAll("starts") Start start, @ForAll long seed) {
    Tape tape = tape(start.world(), new Random(seed), 40);
    assertThat(TapeColumns.of(tape).tape()).isEqualTo(tape);
    assertThat(TapeColumns.inBlocks(tape, 7).blocks()).hasSize(6);
    assertThat(TapeColumns.inBlocks(tape, 7).tape()).isEqualTo(tape);
    // Put together: the sums of what lines of one conversation in one minute say.
    record Key(Connection connection, Set<Tape.Unsaid> unsaid) {}
    Map<Key, Tape.Line> sums = new HashMap<>();
    List<LineBlock> blocks = new ArrayList<>();
    ColumnsBuilder builder = new ColumnsBuilder(blocks::add);
    for (Tape.Line line : tape.lines()) {
      builder.add(line);
      sums.merge(
          new Key(line.connection(), line.unsaid()),
          line,
          (one, other) ->
              new Tape.Line(
                  one.connection(),
                  one.times() + other.times(),
                  one.volume().and(other.volume()),
                  one.unsaid(),
                  one.sample()));
    }
    ColumnsBuilder.Built built = builder.built();
    TapeColumns columns = new TapeColumns("seen", built.values(), built.conversations(), blocks, 0);
    assertThat(columns.tape().lines()).containsExactlyInAnyOrderElementsOf(sums.values());
    assertThat(columns.lines()).isEqualTo(built.lines()).isEqualTo(sums.size());
    // Without some minutes.
    int border = columns.first().orElseThrow() + 1;
    assertThat(columns.since(border).tape().lines())
        .containsExactlyInAnyOrderElementsOf(
            sums.values().stream()
                .filter(line -> Minutes.of(line.connection().at()) >= border)
                .toList());
    List<Tape.Line> older =
        sums.values().stream().filter(line -> Minutes.of(line.connection().at()) < border).toList();
    assertThat(columns.before(border))
        .isEqualTo(
            new TapeColumns.Before(
                older.size(),
                older.stream().mapToLong(Tape.Line::times).sum(),
                older.size() == sums.size()));
    assertThat(columns.before(columns.last().orElseThrow() + 1).isAll()).isTrue();
  }

  @Property(tries = 200)
  void aBlockSaysWhatWasWritten(@ForAll long seed) {
    Random random = new Random(seed);
    int count = 1 + random.nextInt(70);
    int[] conversations = random.ints(count, 0, 1 + random.nextInt(1 << 20)).toArray();
    int[] minutes = random.ints(count, -5, random.nextInt(1 << 25)).toArray();
    long[] times = random.longs(count, 1, 2 + random.nextInt(300)).toArray();
    long[] up = random.longs(count, 0, 1L << 1 + random.nextInt(60)).toArray();
    long[] down = random.longs(count).toArray();
    LineBlock block = LineBlock.of(count, conversations, minutes, times, up, down);
    LineBlock again = new LineBlock(block.bytes());
    int[] ints = new int[count];
    long[] longs = new long[count];
    again.read(Column.CONVERSATION, ints);
    assertThat(ints).isEqualTo(conversations);
    again.read(Column.MINUTE, ints);
    assertThat(ints).isEqualTo(minutes);
    again.read(Column.TIMES, longs);
    assertThat(longs).isEqualTo(times);
    again.read(Column.UP, longs);
    assertThat(longs).isEqualTo(up);
    again.read(Column.DOWN, longs);
    assertThat(longs).isEqualTo(down);
    for (int i = 0; i < count; i++) {
      assertThat(again.value(Column.DOWN, i)).isEqualTo(down[i]);
      assertThat(again.value(Column.CONVERSATION, i)).isEqualTo(conversations[i]);
    }
  }

  @Test
  void aDamagedBlockIsNoBlock() {
    byte[] bytes = new byte[100];
    assertThatIllegalArgumentException().isThrownBy(() -> new LineBlock(ByteBuffer.wrap(bytes)));
    assertThatIllegalArgumentException()
        .isThrownBy(() -> new LineBlock(ByteBuffer.wrap(new byte[3])));
    bytes[0] = 3;
    bytes[12] = -7;
    assertThatIllegalArgumentException().isThrownBy(() -> new LineBlock(ByteBuffer.wrap(bytes)));
  }

  @Test
  void aMinuteIsWhereItsTimeLies() {
    for (String time : List.of("1970-01-01T00:00", "2026-11-02T09:30", "2999-12-31T23:59")) {
      java.time.LocalDateTime at = java.time.LocalDateTime.parse(time);
      assertThat(Minutes.time(Minutes.of(at))).isEqualTo(at);
    }
    for (String outside : List.of("1969-12-31T23:59", "3000-01-01T00:00")) {
      assertThatThrownBy(() -> Minutes.of(java.time.LocalDateTime.parse(outside)))
          .hasMessageContaining("between 1970 and 2999");
    }
  }

  @Test
  void whereTrafficLiesIsForgottenWithTheSpaceItLiesIn() {
    Environment environment = ironsieve.SmallWorld.environment();
    Connection seen = ironsieve.SmallWorld.points().get(0).connection();
    Traffic traffic = Traffic.of(List.of(new Tape("t", List.of(new Tape.Line(seen, 1)))));
    List<WeakReference<ironsieve.compile.Space>> spaces = new ArrayList<>();
    for (int i = 0; i < 20; i++) {
      CompiledRulebase compiled = CompiledRulebase.of(Rulebases.of("allow"), environment);
      RecordedDecisions.of(compiled, traffic);
      spaces.add(new WeakReference<>(compiled.space()));
    }
    System.gc();
    // The last one may still stand in a frame.
    assertThat(spaces.stream().filter(space -> space.get() != null).count()).isLessThanOrEqualTo(1);
    assertThat(traffic.tapes()).hasSize(1);
  }
}
