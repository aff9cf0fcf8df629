package ironsieve.server.edit;

import ironsieve.files.FaultException;
import ironsieve.progress.Progress;
import ironsieve.recorded.BlockStore;
import ironsieve.recorded.Minutes;
import ironsieve.recorded.TapeColumns;
import ironsieve.recorded.TapeDifference;
import ironsieve.server.store.Company;
import ironsieve.server.store.RulebaseStore;
import ironsieve.server.store.Samples;
import ironsieve.server.store.Sql;
import ironsieve.server.store.TapeContents;
import ironsieve.server.store.TapeStore;
import ironsieve.traffic.file.TapeFile;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * Keeps recorded traffic as tapes of a rulebase, and takes off them what is too old. A tape is made
 * without a lock or a connection to the database, and written in one short transaction.
 */
@ApplicationScoped
public class TapeEditor {

  private static final int LONGEST_NAME = 80;

  @Inject Sql sql;
  @Inject RulebaseStore store;
  @Inject TapeStore tapes;
  @Inject TapeContents contents;
  @Inject Snapshots snapshots;
  @Inject Company company;

  /**
   * Keeps recorded traffic, in the place of a tape of that name, which can be brought back.
   *
   * @param file what was sent; its format is told by its first bytes
   * @param before what stands in it before the traffic
   * @param mapping which column of a table says what, as JSON; empty where their names say it
   * @param progress told of every line; who stops it before the tape is saved has changed nothing
   * @throws FaultException saying what cannot be read, and where
   */
  public RulebaseSnapshot record(
      String rulebase,
      String name,
      String who,
      Path file,
      TapeFile.Before before,
      String mapping,
      Progress progress) {
    FaultException.demandName("tape", "name", name, LONGEST_NAME);
    RulebaseSnapshot newest = snapshots.newest(rulebase);
    Company.WorkspaceVersion known = company.newest();
    Optional<TapeColumns> was = tape(rulebase, name);
    return record(
        rulebase,
        name,
        who,
        blocks -> {
          TapeFile.Made made =
              new TapeFile(
                      newest.environment(),
                      company.signatures(known.contents()).matcher(),
                      progress,
                      blocks)
                  .read(name, file, before, mapping);
          progress.begin("saving", 0);
          return was.map(old -> beside(made, old)).orElse(made);
        },
        tx -> tapes.keepGone(tx, rulebase, name));
  }

  /** The tape of a name, if there is one of columns. */
  private Optional<TapeColumns> tape(String rulebase, String name) {
    return tapes
        .one(rulebase, name)
        .filter(kept -> kept.content() != null)
        .map(kept -> contents.read(name, new TapeContents.Numbers(kept.content(), kept.words())));
  }

  /** Says what is new of a tape that takes the place of another. */
  private static TapeFile.Made beside(TapeFile.Made made, TapeColumns old) {
    TapeDifference difference = TapeDifference.of(old, made.tape());
    List<String> told = new ArrayList<>(made.told());
    told.add(
        difference.added()
            + " lines are new since the tape was loaded before, "
            + difference.gone()
            + " that were there are not");
    return new TapeFile.Made(made.tape(), made.samples(), made.format(), told);
  }

  /**
   * Takes what was seen before a day off a tape.
   *
   * @param kept the tape as it is
   * @throws FaultException if nothing would be left of it, or somebody has replaced it
   */
  public RulebaseSnapshot forget(String rulebase, TapeStore.Kept kept, LocalDate before) {
    String name = kept.name();
    TapeColumns all = recorded(rulebase, name);
    TapeColumns left = all.since(Minutes.nearest(before.atStartOfDay()));
    if (left.lines() == 0) {
      throw new FaultException(
          "tape " + name, "before", "nothing would be left; remove the tape instead");
    }
    if (all.gone() > 0) {
      throw new FaultException(
          "tape " + name, "before", "it has lines that name what is gone, and says not from when");
    }
    return save(
        rulebase,
        blocks -> {
          left.blocks().forEach(blocks::add);
          return new TapeColumns(name, left.values(), left.conversations(), blocks.all(), 0);
        },
        (tx, numbers) ->
            tapes.change(tx, rulebase, kept, kept.with(null, numbers.content(), numbers.words())));
  }

  /** What of a tape was seen before a day. */
  public TapeColumns.Before seenBefore(String rulebase, TapeStore.Kept kept, LocalDate before) {
    return recorded(rulebase, kept.name()).before(Minutes.nearest(before.atStartOfDay()));
  }

  private TapeColumns recorded(String rulebase, String name) {
    return snapshots.newest(rulebase).recorded().tapes().stream()
        .filter(tape -> tape.name().equals(name))
        .findFirst()
        .map(Recorded::untold)
        .orElseThrow(() -> new FaultException("tape " + name, "", "it cannot be read"));
  }

  /**
   * Keeps live traffic as a tape, in the place of one of its name. Only what it has more than what
   * was kept of it before is written. What somebody has put in its place meanwhile can be brought
   * back.
   *
   * @param sealed what of that stays as it is; nothing where all is to be written
   * @return where it is kept
   */
  public TapeContents.Numbers recordLive(
      String rulebase, TapeColumns tape, Optional<TapeContents.Sealed> sealed) {
    FaultException.demandName("tape", "name", tape.name(), LONGEST_NAME);
    TapeContents.Written written =
        sealed
            .flatMap(before -> appended(rulebase, tape, before))
            .orElseGet(
                () ->
                    sql.inTransaction(
                        tx -> {
                          TapeContents.Written one = contents.write(tx, tape);
                          demandRulebase(tx, rulebase);
                          if (sealed.isPresent()) {
                            // Somebody's own, which they can bring back.
                            tapes.keepGone(tx, rulebase, tape.name());
                          }
                          keepLive(tx, rulebase, tape, one.numbers());
                          return one;
                        }));
    sealed.ifPresent(before -> contents.forget(before.of()));
    contents.remember(written);
    return written.numbers();
  }

  /** The number of a tape's columns as they are kept; nothing where there is no such tape. */
  public Optional<Long> content(String rulebase, String name) {
    return sql.inTransaction(tx -> tapes.content(tx, rulebase, name));
  }

  /** Nothing if somebody has put another tape in its place. */
  private Optional<TapeContents.Written> appended(
      String rulebase, TapeColumns tape, TapeContents.Sealed before) {
    return Optional.ofNullable(
        sql.inTransaction(
            tx -> {
              demandRulebase(tx, rulebase);
              Optional<Long> content = tapes.content(tx, rulebase, tape.name());
              if (content.filter(now -> now == before.of().content()).isEmpty()) {
                return null;
              }
              TapeContents.Written one = contents.append(tx, tape, before);
              keepLive(tx, rulebase, tape, one.numbers());
              return one;
            }));
  }

  private void demandRulebase(Sql.Transaction tx, String rulebase) throws SQLException {
    store.lock(tx, rulebase).orElseThrow(() -> snapshots.unknown(rulebase));
  }

  private void keepLive(
      Sql.Transaction tx, String rulebase, TapeColumns tape, TapeContents.Numbers numbers)
      throws SQLException {
    keep(tx, rulebase, tape.name(), "live traffic", live(tape), numbers);
  }

  private static TapeFile.Made live(TapeColumns tape) {
    return new TapeFile.Made(tape, List.of(), "live", List.of("live traffic"));
  }

  /** Says of which tape a content is. */
  private void keep(
      Sql.Transaction tx,
      String rulebase,
      String name,
      String who,
      TapeFile.Made made,
      TapeContents.Numbers numbers)
      throws SQLException {
    tapes.keep(
        tx,
        rulebase,
        new TapeStore.Kept(
            name,
            Instant.now(),
            who,
            null,
            numbers.content(),
            numbers.words(),
            made.samples().isEmpty() ? null : Samples.format(made.samples()),
            sql.json(Map.of("format", made.format(), "told", made.told())),
            null));
  }

  /** Keeps a tape that was made elsewhere, in the place of one of its name. */
  public RulebaseSnapshot record(
      String rulebase, String name, Function<BlockStore, TapeColumns> made, String who) {
    FaultException.demandName("tape", "name", name, LONGEST_NAME);
    return record(rulebase, name, who, blocks -> live(made.apply(blocks)), tx -> {});
  }

  /** What is done before a tape takes the place of another. */
  private interface BeforeKeeping {
    void run(Sql.Transaction tx) throws SQLException;
  }

  private RulebaseSnapshot record(
      String rulebase,
      String name,
      String who,
      Function<BlockStore, TapeFile.Made> make,
      BeforeKeeping first) {
    TapeFile.Made[] made = new TapeFile.Made[1];
    return save(
        rulebase,
        blocks -> {
          made[0] = make.apply(blocks);
          return Recorded.untold(made[0].tape());
        },
        (tx, numbers) -> {
          first.run(tx);
          keep(tx, rulebase, name, who, made[0], numbers);
        });
  }

  /** Says of which tape a content is that was written. */
  private interface Keeping {
    void keep(Sql.Transaction tx, TapeContents.Numbers numbers) throws SQLException;
  }

  /** Makes a tape, and writes it in one short transaction once it is there; all or nothing. */
  private RulebaseSnapshot save(
      String rulebase, Function<BlockStore, TapeColumns> make, Keeping keeping) {
    TapeColumns made = contents.make(make);
    TapeContents.Written written =
        sql.inTransaction(
            tx -> {
              TapeContents.Written one = contents.write(tx, made);
              demandRulebase(tx, rulebase);
              keeping.keep(tx, one.numbers());
              return one;
            });
    contents.remember(written);
    return snapshots.newest(rulebase);
  }
}
