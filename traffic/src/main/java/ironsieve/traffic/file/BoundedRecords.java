package ironsieve.traffic.file;

import ironsieve.files.FaultException;
import java.io.FilterReader;
import java.io.IOException;
import java.io.Reader;

/**
 * Text of which a record is held in memory at a time. Whoever reads it says where a record ends;
 * one that does not end in {@value #MOST_LETTERS} letters is refused, whatever the file's size.
 */
final class BoundedRecords extends FilterReader {

  /** The longest line, or row whose quoted cells go over several lines. */
  static final int MOST_LETTERS = 1 << 20;

  private long records;
  private long letters;

  BoundedRecords(Reader reader) {
    super(reader);
  }

  /** A record ended. */
  void next() {
    records++;
    letters = 0;
  }

  @Override
  public int read() throws IOException {
    int letter = super.read();
    count(letter < 0 ? 0 : 1);
    return letter;
  }

  @Override
  public int read(char[] into, int from, int most) throws IOException {
    int read = super.read(into, from, most);
    count(read);
    return read;
  }

  private void count(int read) {
    letters += Math.max(0, read);
    if (letters > MOST_LETTERS) {
      throw new FaultException(
          "table, line " + (records + 1),
          "",
          String.format(
              "it has more than %,d letters; a line, or a cell in quotes, is not closed",
              MOST_LETTERS));
    }
  }
}
