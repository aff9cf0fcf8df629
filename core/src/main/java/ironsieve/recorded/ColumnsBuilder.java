package ironsieve.recorded;

import ironsieve.compile.Dimension;
import ironsieve.model.Connection;
import ironsieve.model.Connection.ApplicationUse;
import ironsieve.model.Connection.Device;
import ironsieve.model.Connection.Place;
import ironsieve.model.Service;
import ironsieve.model.Tape;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.IntToLongFunction;

/**
 * Makes columns of connections as they come, in memory for values, conversations and a window of
 * lines. Lines of the same conversation in the same minute become one if they come within a window;
 * blocks are handed on as they fill.
 */
public final class ColumnsBuilder {

  /** So many lines are put together before they are handed on. */
  static final int WINDOW = 1 << 19;

  private static final int UNSAID = Conversations.PARTS;
  private static final int SAMPLE = Conversations.PARTS + 1;
  private static final int ROW = Conversations.PARTS + 2;

  private final Consumer<LineBlock> sink;
  private final Numbering<Place> from = new Numbering<>();
  private final Numbering<Optional<String>> people = new Numbering<>();
  private final Numbering<Device> devices = new Numbering<>();
  private final Numbering<Place> to = new Numbering<>();
  private final Numbering<Optional<String>> hosts = new Numbering<>();
  private final Numbering<Service> services = new Numbering<>();
  private final Numbering<ApplicationUse> uses = new Numbering<>();

  private int count;
  // All of one conversation together, for they are compared all at once.
  private int[] rows = new int[ROW << 10];
  private final int[] asked = new int[ROW];
  private int[] table = new int[1 << 11];

  private final boolean isInOrder;
  private final int ofBlock;
  private int[] windowTable = new int[1 << 11];
  private int inWindow;
  private long[] keys = new long[1 << 10];
  private long[] times = new long[1 << 10];
  private long[] up = new long[1 << 10];
  private long[] down = new long[1 << 10];
  private long lines;

  /** Values in the order they came, by number. */
  private static final class Numbering<T> {
    private final Map<T, Integer> numbers = new HashMap<>();
    private final List<T> values = new ArrayList<>();

    private int number(T value) {
      Integer known = numbers.get(value);
      if (known == null) {
        known = values.size();
        numbers.put(value, known);
        values.add(value);
      }
      return known;
    }
  }

  /**
   * What a conversation is made of, by the numbers its values have here.
   *
   * @param unsaid a bit for each of {@link Tape.Unsaid}
   * @param sample what it was told by; −1 for none
   */
  public record Numbers(
      int from,
      int person,
      int device,
      int to,
      int host,
      int service,
      int use,
      int unsaid,
      int sample) {}

  /** What was built; the lines went to the sink. */
  public record Built(Values values, Conversations conversations, long lines) {}

  /**
   * A builder.
   *
   * @param sink gets the blocks as they fill
   */
  public ColumnsBuilder(Consumer<LineBlock> sink) {
    this(sink, false, LineBlock.MOST);
  }

  private ColumnsBuilder(Consumer<LineBlock> sink, boolean isInOrder, int ofBlock) {
    this.sink = sink;
    this.isInOrder = isInOrder;
    this.ofBlock = ofBlock;
  }

  /** One that leaves each line where it is and as it is, though another may say the same. */
  public static ColumnsBuilder inOrder(Consumer<LineBlock> sink) {
    return inOrder(sink, LineBlock.MOST);
  }

  /**
   * One that leaves each line where it is and as it is, though another may say the same.
   *
   * @param ofBlock so many lines are handed on together
   */
  static ColumnsBuilder inOrder(Consumer<LineBlock> sink, int ofBlock) {
    return new ColumnsBuilder(sink, true, ofBlock);
  }

  /** The number of a source. */
  public int from(Place place) {
    return from.number(place);
  }

  /** The number of a person. */
  public int person(Optional<String> login) {
    return people.number(login);
  }

  /** The number of a device. */
  public int device(Device device) {
    return devices.number(device);
  }

  /** The number of a destination. */
  public int to(Place place) {
    return to.number(place);
  }

  /** The number of a host name. */
  public int host(Optional<String> host) {
    return hosts.number(host);
  }

  /** The number of a service. */
  public int service(Service service) {
    return services.number(service);
  }

  /** The number of a use of an application. */
  public int use(ApplicationUse use) {
    return uses.number(use);
  }

  /** Adds a line. */
  public void add(Tape.Line line) {
    add(
        conversation(line),
        Minutes.of(line.connection().at()),
        line.times(),
        line.volume().up(),
        line.volume().down());
  }

  private int conversation(Tape.Line line) {
    Connection connection = line.connection();
    return conversation(
        new Numbers(
            from(connection.from().place()),
            person(connection.from().person()),
            device(connection.from().device()),
            to(connection.to().place()),
            host(connection.to().host()),
            service(connection.service()),
            use(connection.using()),
            Conversations.bits(line.unsaid()),
            line.sample()));
  }

  /** The number of a conversation. */
  public int conversation(Numbers numbers) {
    asked[Dimension.FROM.ordinal()] = numbers.from();
    asked[Dimension.PERSON.ordinal()] = numbers.person();
    asked[Dimension.DEVICE.ordinal()] = numbers.device();
    asked[Dimension.TO.ordinal()] = numbers.to();
    asked[Dimension.SITE.ordinal()] = numbers.host();
    asked[Dimension.SERVICE.ordinal()] = numbers.service();
    asked[Dimension.USING.ordinal()] = numbers.use();
    asked[UNSAID] = numbers.unsaid();
    asked[SAMPLE] = numbers.sample();
    int slot = slot(hash(asked, 0), table);
    while (table[slot] != 0) {
      int known = table[slot] - 1;
      if (Arrays.equals(rows, known * ROW, known * ROW + ROW, asked, 0, ROW)) {
        return known;
      }
      slot = slot + 1 & table.length - 1;
    }
    if (count * ROW == rows.length) {
      rows = Arrays.copyOf(rows, rows.length * 2);
    }
    System.arraycopy(asked, 0, rows, count * ROW, ROW);
    table[slot] = ++count;
    if (count > table.length >> 1) {
      table = tableOf(count, table.length * 2, one -> hash(rows, one * ROW));
    }
    return count - 1;
  }

  /**
   * A table of numbers from 0 by their hashes: each stands, with one added, in the first free slot
   * from where its hash says.
   */
  private static int[] tableOf(int numbers, int length, IntToLongFunction hash) {
    int[] table = new int[length];
    for (int number = 0; number < numbers; number++) {
      int slot = slot(hash.applyAsLong(number), table);
      while (table[slot] != 0) {
        slot = slot + 1 & length - 1;
      }
      table[slot] = number + 1;
    }
    return table;
  }

  private static long hash(int[] row, int from) {
    long hash = 0;
    for (int i = from; i < from + ROW; i++) {
      hash = mixed(hash, row[i]);
    }
    return hash;
  }

  private static long mixed(long hash, int more) {
    return ((hash ^ more) * 0xD6E8FEB86659FD93L) ^ hash >>> 32;
  }

  private static int slot(long hash, int[] table) {
    long mixed = hash * 0x9E3779B97F4A7C15L;
    return (int) (mixed >>> 33) & table.length - 1;
  }

  /**
   * Adds connections of a conversation in one minute.
   *
   * @param conversation its number
   * @param minute since 1970
   * @param more how many
   * @param moreUp bytes from the client, of all together
   * @param moreDown bytes to it
   */
  public void add(int conversation, int minute, long more, long moreUp, long moreDown) {
    long key = key(conversation, minute);
    if (isInOrder) {
      append(key, more, moreUp, moreDown);
      if (inWindow == ofBlock) {
        handOn();
      }
      return;
    }
    int slot = slot(windowHash(key), windowTable);
    while (windowTable[slot] != 0) {
      int known = windowTable[slot] - 1;
      if (keys[known] == key) {
        times[known] += more;
        up[known] += moreUp;
        down[known] += moreDown;
        return;
      }
      slot = slot + 1 & windowTable.length - 1;
    }
    windowTable[slot] = inWindow + 1;
    append(key, more, moreUp, moreDown);
    if (inWindow == WINDOW) {
      handOn();
    } else if (inWindow > windowTable.length >> 1) {
      windowTable = tableOf(inWindow, windowTable.length * 2, i -> windowHash(keys[i]));
    }
  }

  private static long windowHash(long key) {
    return key ^ key >>> 29;
  }

  private static long key(int conversation, int minute) {
    return (long) conversation << 32 | minute & 0xFFFF_FFFFL;
  }

  private void append(long key, long more, long moreUp, long moreDown) {
    if (inWindow == keys.length) {
      int longer = inWindow * 2;
      keys = Arrays.copyOf(keys, longer);
      times = Arrays.copyOf(times, longer);
      up = Arrays.copyOf(up, longer);
      down = Arrays.copyOf(down, longer);
    }
    keys[inWindow] = key;
    times[inWindow] = more;
    up[inWindow] = moreUp;
    down[inWindow] = moreDown;
    inWindow++;
    lines++;
  }

  private void handOn() {
    tell(sink);
    if (!isInOrder) {
      Arrays.fill(windowTable, 0);
    }
    inWindow = 0;
  }

  /** The lines of the window; sorted by conversation, so that equal ones lie together. */
  private void tell(Consumer<LineBlock> to) {
    int[] order = new int[inWindow];
    if (!isInOrder) {
      long[] sorted = Arrays.copyOf(keys, inWindow);
      Arrays.sort(sorted);
      for (int i = 0; i < inWindow; i++) {
        int slot = slot(windowHash(sorted[i]), windowTable);
        while (keys[windowTable[slot] - 1] != sorted[i]) {
          slot = slot + 1 & windowTable.length - 1;
        }
        order[i] = windowTable[slot] - 1;
      }
    } else {
      Arrays.setAll(order, i -> i);
    }
    int[] conversations = new int[LineBlock.MOST];
    int[] minutes = new int[LineBlock.MOST];
    long[][] sums = new long[3][LineBlock.MOST];
    int in = 0;
    for (int i = 0; i < inWindow; i++) {
      int at = order[i];
      conversations[in] = (int) (keys[at] >>> 32);
      minutes[in] = (int) keys[at];
      sums[0][in] = times[at];
      sums[1][in] = up[at];
      sums[2][in] = down[at];
      in++;
      if (in == ofBlock || i == inWindow - 1) {
        to.accept(LineBlock.of(in, conversations, minutes, sums[0], sums[1], sums[2]));
        in = 0;
      }
    }
  }

  /** How many lines there are so far. */
  public long lines() {
    return lines;
  }

  /** How many conversations there are so far. */
  public int conversations() {
    return count;
  }

  /** Hands on what is left, and says what the lines were made of. */
  public Built built() {
    if (inWindow > 0) {
      handOn();
    }
    return build();
  }

  /**
   * What the lines are made of so far, where more will come.
   *
   * @param rest gets the lines that were not handed on yet
   */
  public Built soFar(Consumer<LineBlock> rest) {
    tell(rest);
    return build();
  }

  private Built build() {
    int[][] parts = new int[Conversations.PARTS][count];
    byte[] unsaid = new byte[count];
    int[] samples = new int[count];
    for (int one = 0; one < count; one++) {
      for (int d = 0; d < parts.length; d++) {
        parts[d][one] = rows[one * ROW + d];
      }
      unsaid[one] = (byte) rows[one * ROW + UNSAID];
      samples[one] = rows[one * ROW + SAMPLE];
    }
    Conversations conversations = new Conversations(count, parts, unsaid, samples);
    return new Built(
        new Values(
            from.values,
            people.values,
            devices.values,
            to.values,
            hosts.values,
            services.values,
            uses.values),
        conversations,
        lines);
  }
}
