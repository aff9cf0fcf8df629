package ironsieve.server.store;

import ironsieve.files.FaultException;
import ironsieve.files.TapeParts;
import ironsieve.recorded.BlockStore;
import ironsieve.recorded.Conversations;
import ironsieve.recorded.LineBlock;
import ironsieve.recorded.TapeColumns;
import ironsieve.recorded.Values;
import ironsieve.server.jobs.FutureCache;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.io.BufferedOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;

/**
 * The columns of tapes, in the database and out of it. Contents never change, so whoever reads one
 * reads what everybody else has read; those that are asked for least are dropped and read again.
 */
@ApplicationScoped
public class TapeContents {

  private static final byte[] COPY_HEAD = {
    'P', 'G', 'C', 'O', 'P', 'Y', '\n', (byte) 0xFF, '\r', '\n', 0, 0, 0, 0, 0, 0, 0, 0, 0
  };

  private static final short FIELDS = 4;
  private static final int PARTS_AT_ONCE = 8;

  @Inject Sql sql;

  /** Blocks lie in files, which the machine keeps in memory as far as there is room. */
  private final FutureCache<Numbers, TapeColumns> known =
      FutureCache.ofBytes(Runtime.getRuntime().maxMemory() / 4, TapeColumns::bytes);

  /** Which content and which words a tape has. */
  public record Numbers(long content, long words) {}

  /** A content that was written, with its numbers. */
  public record Written(Numbers numbers, TapeColumns columns) {}

  /**
   * Makes a tape, its blocks in a temporary file; no connection to the database is held meanwhile,
   * however long it takes.
   */
  public TapeColumns make(Function<BlockStore, TapeColumns> make) {
    try (BlockFile file = new BlockFile()) {
      return make.apply(file);
    }
  }

  /**
   * What of a content stays as it is in the one that takes its place: lines are only added.
   *
   * @param of the content that is replaced
   * @param blocks its first so many blocks
   * @param conversations its first so many conversations
   */
  public record Sealed(Numbers of, int blocks, int conversations) {

    private int parts() {
      return conversations / TapeParts.CONVERSATIONS;
    }
  }

  /** Writes a tape that is made; nothing is left of it if the transaction is not committed. */
  public Written write(Sql.Transaction tx, TapeColumns tape) throws SQLException {
    return write(tx, tape, next(tx), 0, 0);
  }

  /**
   * Writes what a tape has more than the content it continues, which nobody can read any more then:
   * what is sealed goes over to the new one as it lies there.
   *
   * @throws FaultException if that content is gone
   */
  public Written append(Sql.Transaction tx, TapeColumns tape, Sealed sealed) throws SQLException {
    long content = next(tx);
    int moved =
        tx.change(
            "update tape_part set content = ? where content = ?"
                + " and (kind = 'block' and number < ? or kind = 'conversations' and number < ?)",
            content,
            sealed.of().content(),
            sealed.blocks(),
            sealed.parts());
    if (moved != sealed.blocks() + sealed.parts()) {
      throw replaced();
    }
    return write(tx, tape, content, sealed.blocks(), sealed.parts());
  }

  private static Written write(
      Sql.Transaction tx, TapeColumns tape, long content, int blocks, int conversations)
      throws SQLException {
    long words = next(tx);
    tx.copy(
        "copy tape_part (content, kind, number, bytes) from stdin binary",
        to -> {
          DataOutputStream out = new DataOutputStream(new BufferedOutputStream(to, 1 << 16));
          out.write(COPY_HEAD);
          for (int number = blocks; number < tape.blocks().size(); number++) {
            row(out, content, "block", number, tape.blocks().get(number).bytes());
          }
          int number = conversations;
          for (byte[] part : TapeParts.conversations(tape.conversations(), conversations)) {
            row(out, content, "conversations", number++, ByteBuffer.wrap(part));
          }
          row(out, words, "words", 0, ByteBuffer.wrap(TapeParts.words(tape.values())));
          out.writeShort(-1);
          out.flush();
        });
    return new Written(new Numbers(content, words), tape);
  }

  /** Remembers what was written, once it is lasting. */
  public void remember(Written written) {
    known.put(written.numbers(), written.columns());
  }

  /** What nobody can read any more is not remembered either. */
  public void forget(Numbers numbers) {
    known.forget(numbers);
  }

  private static long next(Sql.Transaction tx) throws SQLException {
    return tx.row("select nextval('tape_content')", row -> row.getLong(1)).orElseThrow();
  }

  private static void row(
      DataOutputStream out, long content, String kind, int number, ByteBuffer bytes)
      throws IOException {
    byte[] word = kind.getBytes(StandardCharsets.US_ASCII);
    out.writeShort(FIELDS);
    out.writeInt(Long.BYTES);
    out.writeLong(content);
    out.writeInt(word.length);
    out.write(word);
    out.writeInt(Integer.BYTES);
    out.writeInt(number);
    out.writeInt(bytes.remaining());
    byte[] all = new byte[bytes.remaining()];
    bytes.get(all);
    out.write(all);
  }

  /** Writes other words for a content. */
  public Numbers rename(Sql.Transaction tx, Numbers of, Function<Values, Values> renaming)
      throws SQLException {
    long words = next(tx);
    byte[] before =
        tx.row(
                "select bytes from tape_part where content = ? and kind = 'words'",
                row -> row.getBytes(1),
                of.words())
            .orElseThrow(TapeContents::replaced);
    Values was = TapeParts.readWords(before);
    Values becomes = renaming.apply(was);
    if (becomes.equals(was)) {
      return of;
    }
    tx.change(
        "insert into tape_part (content, kind, number, bytes) values (?, 'words', 0, ?)",
        words,
        TapeParts.words(becomes));
    return new Numbers(of.content(), words);
  }

  private static FaultException replaced() {
    return new FaultException("tape", "", "it has been replaced since");
  }

  /**
   * The columns of a tape.
   *
   * @throws FaultException if it has been replaced since, or is damaged
   */
  public TapeColumns read(String name, Numbers numbers) {
    TapeColumns columns = known.get(numbers, () -> sql.reading(tx -> stored(tx, numbers)));
    return new TapeColumns(
        name, columns.values(), columns.conversations(), columns.blocks(), columns.gone());
  }

  /** The same as the database has it. */
  public TapeColumns stored(Sql.Transaction tx, Numbers numbers) throws SQLException {
    List<byte[]> words = new ArrayList<>();
    each(tx, numbers.words(), "words", words::add);
    if (words.isEmpty()) {
      throw replaced();
    }
    Values values = TapeParts.readWords(words.get(0));
    List<byte[]> parts = new ArrayList<>();
    each(tx, numbers.content(), "conversations", parts::add);
    Conversations conversations = TapeParts.readConversations(parts, values);
    try (BlockFile file = new BlockFile()) {
      each(
          tx, numbers.content(), "block", bytes -> file.add(new LineBlock(ByteBuffer.wrap(bytes))));
      return new TapeColumns("", values, conversations, file.all(), 0);
    } catch (IllegalArgumentException e) {
      throw new FaultException("tape", "", e.getMessage());
    }
  }

  /** Tells of the parts of a kind, a few at a time. */
  private static void each(
      Sql.Transaction tx, long content, String kind, java.util.function.Consumer<byte[]> to)
      throws SQLException {
    int from = 0;
    List<byte[]> some;
    do {
      some =
          tx.rows(
              "select bytes from tape_part where content = ? and kind = ? and number >= ?"
                  + " order by number limit ?",
              row -> row.getBytes(1),
              content,
              kind,
              from,
              PARTS_AT_ONCE);
      some.forEach(to);
      from += some.size();
    } while (some.size() == PARTS_AT_ONCE);
  }
}
