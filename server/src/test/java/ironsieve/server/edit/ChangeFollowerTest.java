package ironsieve.server.edit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import io.quarkus.test.junit.QuarkusTest;
import ironsieve.files.Contents;
import ironsieve.progress.Progress;
import ironsieve.server.DemoData;
import ironsieve.server.change.Records;
import ironsieve.server.store.ChangeListener;
import ironsieve.server.store.JournalEntry;
import ironsieve.server.store.RulebaseStore;
import ironsieve.server.store.Sql;
import jakarta.inject.Inject;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What another server changes is known and reviewed here before anybody asks for it. */
@QuarkusTest
class ChangeFollowerTest {

  private static final String BASE = "main-gateway";
  private static final String OTHER = "northquay-terminal";
  private static final Duration PATIENCE = Duration.ofSeconds(60);

  @Inject DemoData demo;
  @Inject Sql sql;
  @Inject RulebaseStore store;
  @Inject Records records;
  @Inject Editor editor;
  @Inject Snapshots snapshots;
  @Inject ChangeListener listener;
  @Inject ChangeFollower follower;

  @BeforeEach
  void restore() {
    demo.restore();
  }

  @AfterEach
  void end() {
    follower.end();
  }

  private static void signedElsewhere(Sql.Transaction tx) throws SQLException {
    tx.row("select set_config('application_name', 'another server', true)", row -> "");
  }

  /** Sets the default verdict as a server does that signs its changes with another name. */
  private long elsewhere(String rulebase, String verdict) {
    return sql.inTransaction(
        tx -> {
          signedElsewhere(tx);
          long next = store.lock(tx, rulebase).orElseThrow().revision() + 1;
          Contents before = store.contents(tx, rulebase);
          Contents.Title title = before.title();
          Contents after =
              before.with(new Contents.Title(title.id(), title.name(), verdict, title.capacity()));
          store.write(
              tx,
              rulebase,
              new JournalEntry(
                  next,
                  Instant.EPOCH,
                  "Ben",
                  "",
                  "set the default verdict",
                  "edit",
                  null,
                  records.between(before, after)));
          return next;
        });
  }

  /** What is remembered of a rulebase once it is at a revision and reviewed; asks nobody for it. */
  private RulebaseSnapshot awaited(String rulebase, long revision) {
    return await()
        .atMost(PATIENCE)
        .until(
            () -> snapshots.remembered(rulebase),
            known ->
                known.filter(one -> one.revision() == revision && one.isReviewed()).isPresent())
        .orElseThrow();
  }

  @Test
  void whatIsInUseIsReviewedBeforeSomebodyAsks() {
    editor.snapshot(BASE).review();
    follower.follow();
    RulebaseSnapshot followed = awaited(BASE, elsewhere(BASE, "allow"));
    assertThat(editor.snapshot(BASE)).isSameAs(followed);
    assertThat(followed.contents().defaultVerdict()).isEqualTo("allow");
  }

  @Test
  void changesThatFollowEachOtherQuicklyAreReviewedToo() {
    editor.snapshot(BASE).review();
    follower.follow();
    long revision = 0;
    for (String verdict : List.of("allow", "reject", "deny", "allow", "reject")) {
      revision = elsewhere(BASE, verdict);
      // Whoever reads the rulebase now has it made, and that one is not reviewed yet.
      editor.snapshot(BASE);
    }
    awaited(BASE, revision);
  }

  @Test
  void itIsFollowedAgainAfterTheConnectionBroke() {
    editor.snapshot(BASE).review();
    follower.follow();
    awaited(BASE, elsewhere(BASE, "allow"));
    List<Integer> broken =
        sql.inTransaction(
            tx ->
                tx.rows(
                    "select pid, pg_terminate_backend(pid) from pg_stat_activity"
                        + " where datname = current_database() and query like 'listen %'",
                    row -> row.getInt(1)));
    assertThat(broken).as("this one's, and that of pages that listen").isNotEmpty();
    // Told while nobody listens.
    awaited(BASE, elsewhere(BASE, "reject"));
    awaited(BASE, elsewhere(BASE, "allow"));
  }

  @Test
  void ownChangesAreNotHeard() throws Exception {
    BlockingQueue<String> heard = new LinkedBlockingQueue<>();
    ChangeListener.Listening listening = listener.listen(heard::add);
    try {
      assertThat(next(heard)).as("whatever happened before").isEmpty();
      editor.edit(
          BASE,
          editor.snapshot(BASE).revision(),
          new Author("Ann", ""),
          "",
          List.of(new RulebaseStep.SetDefaultVerdict("allow")),
          new Progress());
      sql.inTransaction(tx -> tx.row("select pg_notify('iron_sieve_changes', 'no')", row -> ""));
      elsewhere(OTHER, "reject");
      assertThat(next(heard)).isEqualTo(OTHER);
      sql.inTransaction(
          tx -> {
            signedElsewhere(tx);
            return tx.change("update workspace set version = version + 1");
          });
      assertThat(next(heard)).as("what all are read against").isEmpty();
    } finally {
      listening.close();
    }
  }

  private static String next(BlockingQueue<String> heard) throws InterruptedException {
    return heard.poll(PATIENCE.toSeconds(), TimeUnit.SECONDS);
  }
}
