package ironsieve.replay;

import ironsieve.recorded.Minutes;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.RowFactory;
import org.apache.spark.sql.types.DataTypes;
import org.apache.spark.sql.types.StructType;

/** What lines of some kinds come to, by keys; one row for each leaves a share. */
final class Sums {

  /** The kinds of rows. */
  static final String HITS = "hits";

  static final String POSSIBLE = "possible";
  static final String CHANGED = "changed";
  static final String VIEWS = "views";
  static final String HOURS = "hours";
  static final String UNREAD = "unread";
  static final String EXAMPLE = "example";

  /** So many keys a row has at most. */
  static final int KEYS = 5;

  /** The columns of a row. */
  static final StructType ROW = row();

  private final Map<List<String>, Sum> sums = new HashMap<>();

  private static final class Sum {
    private long connections;
    private long up;
    private long down;
    private int first = Integer.MAX_VALUE;
    private int last = Integer.MIN_VALUE;
  }

  private static StructType row() {
    StructType row = new StructType().add("kind", DataTypes.StringType);
    for (int k = 1; k <= KEYS; k++) {
      row = row.add("key" + k, DataTypes.StringType);
    }
    return row.add("connections", DataTypes.LongType)
        .add("bytes_up", DataTypes.LongType)
        .add("bytes_down", DataTypes.LongType)
        .add("first", DataTypes.StringType)
        .add("last", DataTypes.StringType);
  }

  /** Adds connections that were seen from one minute to another. */
  void add(List<String> key, long connections, long up, long down, int first, int last) {
    Sum sum = sums.computeIfAbsent(key, any -> new Sum());
    sum.connections += connections;
    sum.up += up;
    sum.down += down;
    sum.first = Math.min(sum.first, first);
    sum.last = Math.max(sum.last, last);
  }

  /** Adds connections of which it does not matter when they were seen. */
  void add(List<String> key, long connections, long up, long down) {
    add(key, connections, up, down, Integer.MAX_VALUE, Integer.MIN_VALUE);
  }

  /** One row for each key. */
  Iterator<Row> rows() {
    return sums.entrySet().stream().map(entry -> row(entry.getKey(), entry.getValue())).iterator();
  }

  private static Row row(List<String> key, Sum sum) {
    List<Object> cells = new ArrayList<>(Arrays.asList(new Object[KEYS + 1]));
    for (int k = 0; k < key.size(); k++) {
      cells.set(k, key.get(k));
    }
    cells.add(sum.connections);
    cells.add(sum.up);
    cells.add(sum.down);
    cells.add(sum.last == Integer.MIN_VALUE ? null : Minutes.time(sum.first).toString());
    cells.add(sum.last == Integer.MIN_VALUE ? null : Minutes.time(sum.last).toString());
    return RowFactory.create(cells.toArray());
  }
}
