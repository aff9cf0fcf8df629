package ironsieve.replay;

import java.lang.reflect.Field;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import org.apache.spark.sql.execution.vectorized.WritableColumnVector;
import org.apache.spark.sql.types.DataType;
import org.apache.spark.sql.types.DataTypes;
import org.apache.spark.sql.vectorized.ColumnVector;
import org.apache.spark.unsafe.types.UTF8String;

/**
 * Numbers for the values of a column, the same for the same value in every batch. A file names most
 * values by their places in a dictionary; such a place is looked up once for each dictionary.
 */
final class Codes {

  /** The code of nothing. */
  private static final int NOTHING = 0;

  private static final int UNKNOWN = -1;

  /** So many values are remembered before all are forgotten. */
  private static final int MOST = 1_000_000;

  private static final Field DICTIONARY = dictionary();

  /** The code of each row of the batch read last. */
  int[] of = new int[0];

  private final Map<UTF8String, Integer> texts = new HashMap<>();
  private final Map<Long, Integer> numbers = new HashMap<>();
  private Object dictionary;
  private int[] ofPlace = new int[0];

  /** No method tells which dictionary a column has, and two batches may have two. */
  private static Field dictionary() {
    try {
      Field field = WritableColumnVector.class.getDeclaredField("dictionary");
      field.setAccessible(true);
      return field;
    } catch (ReflectiveOperationException | RuntimeException e) {
      // Another version of the engine: each value is then looked up itself.
      return null;
    }
  }

  /** Whether so many values are remembered that they are better forgotten. */
  boolean isFull() {
    return texts.size() + numbers.size() > MOST;
  }

  /** Forgets all values; their codes stand for others from now on. */
  void forget() {
    texts.clear();
    numbers.clear();
    dictionary = null;
  }

  /** Finds the codes of a batch. */
  void read(ColumnVector column, int rows) {
    if (of.length < rows) {
      of = new int[rows];
    }
    WritableColumnVector places = places(column);
    for (int row = 0; row < rows; row++) {
      if (column.isNullAt(row)) {
        of[row] = NOTHING;
      } else if (places == null) {
        of[row] = code(column, row);
      } else {
        int place = places.getDictId(row);
        if (place >= ofPlace.length) {
          int known = ofPlace.length;
          ofPlace = Arrays.copyOf(ofPlace, Math.max(place + 1, known * 2));
          Arrays.fill(ofPlace, known, ofPlace.length, UNKNOWN);
        }
        if (ofPlace[place] == UNKNOWN) {
          ofPlace[place] = code(column, row);
        }
        of[row] = ofPlace[place];
      }
    }
  }

  /** The places of a column's values in its dictionary; null where it has none. */
  private WritableColumnVector places(ColumnVector column) {
    if (DICTIONARY == null
        || !(column instanceof WritableColumnVector written)
        || !written.hasDictionary()) {
      return null;
    }
    try {
      Object now = DICTIONARY.get(written);
      if (now != dictionary) {
        dictionary = now;
        Arrays.fill(ofPlace, UNKNOWN);
      }
    } catch (IllegalAccessException e) {
      return null;
    }
    return written.getDictionaryIds();
  }

  private int code(ColumnVector column, int row) {
    DataType type = column.dataType();
    if (!type.equals(DataTypes.StringType)) {
      return numbers.computeIfAbsent(Batches.whole(column, type, row), any -> next());
    }
    UTF8String text = column.getUTF8String(row);
    Integer known = texts.get(text);
    if (known == null) {
      known = next();
      // The batch will be overwritten by the next one.
      texts.put(text.copy(), known);
    }
    return known;
  }

  private int next() {
    return texts.size() + numbers.size() + 1;
  }
}
