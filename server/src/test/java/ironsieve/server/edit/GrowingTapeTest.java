package ironsieve.server.edit;

import static org.assertj.core.api.Assertions.assertThat;

import io.quarkus.test.junit.QuarkusTest;
import ironsieve.model.Tape;
import ironsieve.recorded.LineBlock;
import ironsieve.recorded.TapeColumns;
import ironsieve.server.DemoData;
import ironsieve.server.store.Sql;
import ironsieve.server.store.TapeContents;
import ironsieve.server.store.TapeContents.Numbers;
import ironsieve.server.store.TapeContents.Sealed;
import ironsieve.server.store.TapeStore;
import jakarta.inject.Inject;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A tape that live traffic is added to, in blocks. */
@QuarkusTest
class GrowingTapeTest {

  private static final String BASE = "main-gateway";
  private static final String NAME = "live";

  @Inject DemoData demo;
  @Inject Editor editor;
  @Inject TapeEditor tapeEditor;
  @Inject TapeStore tapes;
  @Inject TapeContents contents;
  @Inject Sql sql;

  private TapeColumns all;

  @BeforeEach
  void restore() {
    demo.restore();
    TapeColumns some = editor.snapshot(BASE).recorded().tapes().get(0);
    List<Tape.Line> lines = new ArrayList<>();
    // The same connections again and again, as on every day: lines come, and few new words.
    for (int day = 0; day < 20; day++) {
      for (int b = 0; b < some.blocks().size(); b++) {
        for (int i = 0; i < some.blocks().get(b).count(); i++) {
          lines.add(some.line(b, i));
        }
      }
    }
    all = TapeColumns.inBlocks(new Tape(NAME, lines, 0), Math.max(1, lines.size() / 40));
    assertThat(all.blocks()).hasSizeGreaterThan(30);
  }

  /** The tape as it was once so many blocks had come in. */
  private TapeColumns after(int blocks) {
    return new TapeColumns(
        NAME, all.values(), all.conversations(), all.blocks().subList(0, blocks), 0);
  }

  private Sealed sealed(Numbers numbers, int blocks) {
    return new Sealed(numbers, blocks, all.conversations().count());
  }

  private long written() {
    return sql.inTransaction(
        tx ->
            tx.row("select pg_current_wal_insert_lsn() - '0/0'::pg_lsn", row -> row.getLong(1))
                .orElseThrow());
  }

  private void assertKept(TapeColumns expected) {
    TapeStore.Kept kept = tapes.one(BASE, NAME).orElseThrow();
    // Numbers nobody has asked for yet are read from the database.
    TapeColumns read =
        sql.inTransaction(tx -> contents.stored(tx, new Numbers(kept.content(), kept.words())));
    assertThat(read.values()).isEqualTo(expected.values());
    assertThat(read.blocks().stream().map(LineBlock::bytes))
        .isEqualTo(expected.blocks().stream().map(LineBlock::bytes).toList());
    assertThat(read.conversations().count()).isEqualTo(expected.conversations().count());
  }

  @Test
  void whatIsThereAlreadyIsNotWrittenAgain() {
    long whole = Long.MAX_VALUE;
    long more = Long.MAX_VALUE;
    // What is counted is all that the database server writes; others beside this only add to it.
    for (int round = 0; round < 3; round++) {
      long before = written();
      Numbers numbers = tapeEditor.recordLive(BASE, after(36), Optional.empty());
      whole = Math.min(whole, written() - before);
      before = written();
      for (int blocks = 37; blocks <= 40; blocks++) {
        numbers =
            tapeEditor.recordLive(BASE, after(blocks), Optional.of(sealed(numbers, blocks - 1)));
        assertKept(after(blocks));
      }
      more = Math.min(more, written() - before);
    }
    assertThat(more).as("bytes for four more blocks").isLessThan(whole);
  }

  @Test
  void whatSomebodyPutInItsPlaceIsLeftAlone() {
    final Numbers numbers = tapeEditor.recordLive(BASE, after(20), Optional.empty());
    sql.inTransaction(
        tx -> {
          tapes.keepGone(tx, BASE, NAME);
          return 0;
        });
    Numbers between = tapeEditor.recordLive(BASE, after(5), Optional.empty());
    tapeEditor.recordLive(BASE, after(21), Optional.of(sealed(numbers, 20)));
    assertKept(after(21));
    TapeColumns gone = sql.inTransaction(tx -> contents.stored(tx, numbers));
    assertThat(gone.blocks()).as("kept for whoever wants it back").hasSize(20);
    List<Long> kept =
        sql.inTransaction(
            tx ->
                tx.rows(
                    "select content from tape_gone where rulebase = ? and name = ?",
                    row -> row.getLong(1),
                    BASE,
                    NAME));
    assertThat(kept)
        .as("the first, and what was put in its place")
        .containsExactlyInAnyOrder(numbers.content(), between.content());
  }
}
