package ironsieve.server.store;

import ironsieve.files.FaultException;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Recorded traffic in the database, as it was handed in. */
@ApplicationScoped
public class TapeStore {

  /** No tape is kept for more days than this; ten years. */
  /** So many days a tape that went can be brought back. */
  public static final int DAYS_GONE = 30;

  public static final int MOST_DAYS = 3_650;

  @Inject Sql sql;

  /**
   * A tape as it is kept.
   *
   * @param csv the lines as an archive had them; nothing where they are columns
   * @param content the number of its columns; nothing where there is text
   * @param words the number of what its columns name
   * @param samples what its connections showed, as {@code Samples} writes it; nothing for none
   * @param made what became of the file it was made of, as JSON; nothing where it is a tape's own
   * @param keepDays so many days of it are kept; nothing where all of it is
   */
  public record Kept(
      String name,
      Instant added,
      String who,
      String csv,
      Long content,
      Long words,
      byte[] samples,
      String made,
      Integer keepDays) {

    /** A tape of text. */
    public static Kept ofText(String name, String who, String csv, byte[] samples) {
      return new Kept(name, Instant.now(), who, csv, null, null, samples, null, null);
    }

    /** The same tape with other lines or words. */
    public Kept with(String otherCsv, Long otherContent, Long otherWords) {
      return new Kept(
          name, added, who, otherCsv, otherContent, otherWords, samples, made, keepDays);
    }
  }

  /** The tapes of a rulebase, by name. */
  public List<Kept> of(Sql.Transaction tx, String rulebase) throws SQLException {
    return tx.rows(
        "select * from tape where rulebase = ? order by name", TapeStore::readRow, rulebase);
  }

  /** One tape. */
  public Optional<Kept> one(String rulebase, String name) {
    return sql.inTransaction(
        tx ->
            tx.row(
                "select * from tape where rulebase = ? and name = ?",
                TapeStore::readRow,
                rulebase,
                name));
  }

  /** The number of a tape's columns; nothing where there is none of that name, or text. */
  public Optional<Long> content(Sql.Transaction tx, String rulebase, String name)
      throws SQLException {
    return tx.row(
        "select content from tape where rulebase = ? and name = ? and content is not null",
        row -> row.getLong(1),
        rulebase,
        name);
  }

  private static Kept readRow(ResultSet row) throws SQLException {
    return new Kept(
        row.getString("name"),
        row.getTimestamp("added").toInstant(),
        row.getString("who"),
        row.getString("csv"),
        row.getObject("content", Long.class),
        row.getObject("words", Long.class),
        row.getBytes("samples"),
        row.getString("made"),
        row.getObject("keep_days", Integer.class));
  }

  /** Keeps a tape with what its connections showed, in the place of one with its name. */
  public void keep(Sql.Transaction tx, String rulebase, Kept tape) throws SQLException {
    tx.change(
        "insert into tape (rulebase, name, who, csv, content, words, samples, made)"
            + " values (?, ?, ?, ?, ?, ?, ?, ?::jsonb)"
            + " on conflict (rulebase, name) do update set csv = excluded.csv, who = excluded.who,"
            + " content = excluded.content, words = excluded.words, samples = excluded.samples,"
            + " made = excluded.made, added = now()",
        rulebase,
        tape.name(),
        tape.who(),
        tape.csv(),
        tape.content(),
        tape.words(),
        tape.samples(),
        tape.made());
    tx.change("update rulebase set tapes = tapes + 1 where id = ?", rulebase);
  }

  /**
   * Keeps other lines or words for a tape that stays what it is otherwise.
   *
   * @param before what it was when somebody began to change it
   * @throws FaultException if it is not that any more
   */
  public void change(Sql.Transaction tx, String rulebase, Kept before, Kept after)
      throws SQLException {
    int changed =
        tx.change(
            "update tape set csv = ?, content = ?, words = ? where rulebase = ? and name = ?"
                + " and content is not distinct from ?::bigint"
                + " and words is not distinct from ?::bigint",
            after.csv(),
            after.content(),
            after.words(),
            rulebase,
            before.name(),
            before.content(),
            before.words());
    if (changed == 0) {
      throw new FaultException(
          "tape " + before.name(), "", "somebody has replaced it meanwhile; do it again");
    }
    tx.change("update rulebase set tapes = tapes + 1 where id = ?", rulebase);
  }

  /** Keeps so many days of a tape from now on, or, without a number, all; whether there is one. */
  public boolean keepDays(String rulebase, String name, Integer days) {
    return sql.inTransaction(tx -> keepDays(tx, rulebase, name, days));
  }

  /** The same in a transaction. */
  boolean keepDays(Sql.Transaction tx, String rulebase, String name, Integer days)
      throws SQLException {
    int changed =
        tx.change(
            "update tape set keep_days = ?::int where rulebase = ? and name = ?",
            days,
            rulebase,
            name);
    tx.change("update rulebase set tapes = tapes + ? where id = ?", changed, rulebase);
    return changed > 0;
  }

  /** How many days of a tape are kept; nothing where all of it is, or there is none. */
  public Optional<Integer> keepDays(String rulebase, String name) {
    return sql.inTransaction(
        tx ->
            tx.row(
                "select keep_days from tape where rulebase = ? and name = ?"
                    + " and keep_days is not null",
                row -> row.getInt("keep_days"),
                rulebase,
                name));
  }

  /** A tape of which only some days are kept, and where it was recorded. */
  public record Ageing(String rulebase, Kept tape) {}

  /** All tapes of which only some days are kept. */
  public List<Ageing> ageing() {
    return sql.inTransaction(
        tx ->
            tx.rows(
                "select * from tape where keep_days is not null order by rulebase, name",
                row -> new Ageing(row.getString("rulebase"), readRow(row))));
  }

  /** A tape that was removed or replaced. */
  public record Gone(int number, String name, Instant gone, String who) {}

  private static final String KEEP_GONE =
      "insert into tape_gone (rulebase, name, added, who, csv, content, words, samples, made,"
          + " keep_days) select rulebase, name, added, who, csv, content, words, samples, made,"
          + " keep_days from tape where rulebase = ? and name = ?";

  /** Keeps a tape for a while that is about to be removed or replaced, if there is one. */
  public void keepGone(Sql.Transaction tx, String rulebase, String name) throws SQLException {
    tx.change(KEEP_GONE, rulebase, name);
    forgetGone(tx);
  }

  /** Lets go for good what went longer than {@link #DAYS_GONE} days ago. */
  public void forgetGone() {
    sql.inTransaction(tx -> forgetGone(tx));
  }

  private int forgetGone(Sql.Transaction tx) throws SQLException {
    return tx.change(
        "delete from tape_gone where gone < now() - interval '" + DAYS_GONE + " days'");
  }

  /** The tapes of a rulebase that can be brought back, the last one first. */
  public List<Gone> gone(String rulebase) {
    return sql.inTransaction(
        tx ->
            tx.rows(
                "select number, name, gone, who from tape_gone where rulebase = ?"
                    + " order by gone desc, number desc",
                row ->
                    new Gone(
                        row.getInt("number"),
                        row.getString("name"),
                        row.getTimestamp("gone").toInstant(),
                        row.getString("who")),
                rulebase));
  }

  /**
   * Brings a tape back, under its name or, where there is one of that name, beside it.
   *
   * @return its name; nothing if there is none of this number
   */
  public Optional<String> bringBack(String rulebase, int number) {
    return sql.inTransaction(
        tx -> {
          Optional<String> was =
              tx.row(
                  "select name from tape_gone where rulebase = ? and number = ? for update",
                  row -> row.getString(1),
                  rulebase,
                  number);
          if (was.isEmpty()) {
            return was;
          }
          String name = freeName(tx, rulebase, was.get());
          tx.change(
              "insert into tape (rulebase, name, added, who, csv, content, words, samples, made,"
                  + " keep_days) select rulebase, ?, added, who, csv, content, words, samples, made,"
                  + " keep_days from tape_gone where number = ?",
              name,
              number);
          tx.change("delete from tape_gone where number = ?", number);
          tx.change("update rulebase set tapes = tapes + 1 where id = ?", rulebase);
          return Optional.of(name);
        });
  }

  /** A name no tape has: the one that is wished for, or the same with a number behind it. */
  public String freeName(String rulebase, String wished) {
    return sql.inTransaction(tx -> freeName(tx, rulebase, wished));
  }

  private static String freeName(Sql.Transaction tx, String rulebase, String wished)
      throws SQLException {
    Set<String> taken =
        Set.copyOf(
            tx.rows("select name from tape where rulebase = ?", row -> row.getString(1), rulebase));
    String name = wished;
    for (int beside = 2; taken.contains(name); beside++) {
      name = wished + " " + beside;
    }
    return name;
  }

  /** Takes a tape out, which can be brought back for a while; whether there was one. */
  public boolean remove(String rulebase, String name) {
    return sql.inTransaction(
        tx -> {
          keepGone(tx, rulebase, name);
          int gone = tx.change("delete from tape where rulebase = ? and name = ?", rulebase, name);
          tx.change("update rulebase set tapes = tapes + ? where id = ?", gone, rulebase);
          return gone > 0;
        });
  }
}
