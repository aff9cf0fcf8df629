package ironsieve.server.edit;

import ironsieve.files.Contents;
import ironsieve.files.FaultException;
import ironsieve.model.Environment;
import ironsieve.progress.Progress;
import ironsieve.server.change.Change;
import ironsieve.server.change.Records;
import ironsieve.server.jobs.Once;
import ironsieve.server.store.Company;
import ironsieve.server.store.JournalEntry;
import ironsieve.server.store.RulebaseStore;
import ironsieve.server.store.Sql;
import ironsieve.server.store.State;
import ironsieve.server.store.TapeContents;
import ironsieve.server.store.TapeStore;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;

/**
 * What rulebases say and are worked out to, at any state. What is remembered of one is only a copy
 * of what the database has, checked against the database's revision before each use, so that
 * several servers can share one database. Safe for any number of threads; many who ask for the same
 * wait for the same.
 */
@ApplicationScoped
class Snapshots {

  /** As many edits of another server are followed one by one before all is read again. */
  private static final int MOST_FOLLOWED = 20;

  /** A rulebase that somebody has asked for within this time is kept at its newest state. */
  private static final Duration IN_USE = Duration.ofMinutes(10);

  @Inject Clock clock;
  @Inject Sql sql;
  @Inject RulebaseStore store;
  @Inject Records records;
  @Inject TapeStore tapes;
  @Inject TapeContents tapeContents;
  @Inject Company company;
  private final SnapshotCache cache = new SnapshotCache(Runtime.getRuntime().maxMemory() / 3);

  /**
   * What is being read now, by rulebase and state; whoever asks for the same waits for the same.
   */
  private final Map<String, Once<RulebaseSnapshot>> reading = new ConcurrentHashMap<>();

  /**
   * The newest state of a rulebase.
   *
   * @throws UnknownException if there is no such rulebase
   */
  RulebaseSnapshot newest(String rulebase) {
    State newest = store.state(rulebase).orElseThrow(() -> unknown(rulebase));
    RulebaseSnapshot known = cache.asked(rulebase, clock.instant()).orElse(null);
    return known != null && known.state().equals(newest) ? known : newer(rulebase, newest);
  }

  /** The remembered rulebases that somebody has asked for lately, by id. */
  List<String> inUse() {
    return cache.askedSince(clock.instant().minus(IN_USE));
  }

  /** What is remembered of a rulebase; nobody asks for it, so it need not be the newest. */
  Optional<RulebaseSnapshot> remembered(String rulebase) {
    return cache.newest(rulebase);
  }

  /** Brings what is remembered of a rulebase to its newest state before somebody asks for it. */
  void follow(String rulebase) {
    remembered(rulebase)
        .ifPresent(
            known ->
                store
                    .state(rulebase)
                    .filter(newest -> !known.state().equals(newest))
                    .ifPresent(newest -> newer(rulebase, newest)));
  }

  UnknownException unknown(String rulebase) {
    return UnknownException.of("rulebase", rulebase, rulebases());
  }

  private RulebaseSnapshot newer(String rulebase, State newest) {
    String key = rulebase + " " + newest.token();
    Once<RulebaseSnapshot> once = reading.computeIfAbsent(key, one -> new Once<>());
    try {
      return once.get(
          () -> {
            RulebaseSnapshot made = read(rulebase, newest);
            cache.keep(made);
            return made;
          });
    } finally {
      reading.remove(key, once);
    }
  }

  /** Reads a state, or a newer one; from what is known as far as that goes. */
  private RulebaseSnapshot read(String rulebase, State wanted) {
    Company.WorkspaceVersion read = company.at(wanted.workspace());
    RulebaseSnapshot known = cache.newest(rulebase).orElse(null);
    Loaded loaded =
        sql.reading(
            tx -> {
              State now = store.state(tx, rulebase).orElseThrow(() -> unknown(rulebase));
              boolean follows =
                  known != null
                      && known.environment() == read.environment()
                      && known.state().day().equals(now.day())
                      && known.revision() <= now.revision()
                      && now.revision() - known.revision() <= MOST_FOLLOWED;
              boolean sameTapes = follows && known.state().tapes() == now.tapes();
              return new Loaded(
                  now,
                  follows
                      ? store.journalBetween(tx, rulebase, known.revision(), now.revision())
                      : null,
                  follows ? null : store.contents(tx, rulebase),
                  sameTapes ? null : tapes.of(tx, rulebase));
            });
    State state = loaded.state();
    Environment environment = read.environment();
    if (read.version() != state.workspace()) {
      // Somebody changed the workspace in between; what was read belongs to the version before.
      state =
          new State(
              state.revision(),
              read.version(),
              state.tapes(),
              state.steps(),
              read.environment().today());
    }
    if (loaded.contents() != null) {
      Recorded recorded = recorded(loaded.tapes(), read);
      return new RulebaseSnapshot(
          state, loaded.contents(), environment, recorded, RulebaseSnapshot.budget(state.steps()));
    }
    RulebaseSnapshot snapshot = known;
    for (JournalEntry entry : loaded.journal()) {
      State next = known.state().at(entry.revision());
      snapshot =
          snapshot.followedAsFarAsKnown(
              next, records.with(snapshot.contents(), entry.changes()), new Progress());
    }
    if (snapshot != known) {
      cache.replaced(known);
    }
    return snapshot.state().equals(state)
        ? snapshot
        : snapshot.beside(
            state, loaded.tapes() == null ? snapshot.recorded() : recorded(loaded.tapes(), read));
  }

  private Recorded recorded(List<TapeStore.Kept> kept, Company.WorkspaceVersion read) {
    return new Recorded(
        kept,
        read.environment(),
        () -> company.signatures(read.contents()).matcher(),
        tapeContents);
  }

  /** What the database said at one moment; either what follows a known snapshot, or all of it. */
  private record Loaded(
      State state, List<JournalEntry> journal, Contents contents, List<TapeStore.Kept> tapes) {}

  /**
   * A rulebase as it was at a revision: the newest with all later changes taken back.
   *
   * @throws FaultException if it never was at that revision
   */
  RulebaseSnapshot at(String rulebase, long revision) {
    RulebaseSnapshot newest = newest(rulebase);
    if (revision < 0 || revision > newest.revision()) {
      throw new FaultException(
          "rulebase " + rulebase, "revision", "it has revisions 0 to " + newest.revision());
    }
    if (revision == newest.revision()) {
      return newest;
    }
    State wanted = newest.state().at(revision);
    Optional<RulebaseSnapshot> known =
        cache.previous(rulebase).stream()
            .filter(snapshot -> snapshot.state().equals(wanted))
            .findFirst();
    if (known.isPresent()) {
      return known.get();
    }
    List<JournalEntry> later =
        new ArrayList<>(
            sql.inTransaction(
                tx -> store.journalBetween(tx, rulebase, revision, newest.revision())));
    Collections.reverse(later);
    Contents contents = newest.contents();
    for (JournalEntry entry : later) {
      contents = records.with(contents, entry.changes().stream().map(Change::reversed).toList());
    }
    return new RulebaseSnapshot(
        wanted, contents, newest.environment(), newest.recorded(), newest.budget());
  }

  /** A rulebase at a revision, if it is remembered; against whatever surroundings it was read. */
  Optional<RulebaseSnapshot> rememberedAt(RulebaseSnapshot newest, long revision) {
    return newest.revision() == revision
        ? Optional.of(newest)
        : cache.previous(newest.contents().id()).stream()
            .filter(snapshot -> snapshot.revision() == revision)
            .findFirst();
  }

  /** Those of a rulebase that are remembered besides the newest. */
  List<RulebaseSnapshot> previous(String rulebase) {
    return cache.previous(rulebase);
  }

  /** Remembers what an edit made, and what it was made on. */
  void keep(RulebaseSnapshot before, RulebaseSnapshot after) {
    cache.replaced(before);
    cache.keep(after);
  }

  /** The ids of the rulebases that are in use. */
  List<String> rulebases() {
    return store.heads().stream()
        .filter(head -> head.standing().equals("active"))
        .map(RulebaseStore.Head::id)
        .toList();
  }
}
