package ironsieve.recorded;

import ironsieve.recorded.LineBlock.Column;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;

/** The lines of some conversations decided again. */
final class Redecided {

  /** Fewer conversations than one in so many lines are sooner looked up than read. */
  private static final int LOOKED_UP = 50;

  private final TapeColumns tape;
  private final Located located;
  private final TapeCodes before;
  private final Deciding deciding;
  private final BitSet touched;

  /**
   * Lines of a tape.
   *
   * @param touched the codes of what rules catch that an edit touched: the same code may stand for
   *     another verdict
   */
  Redecided(
      TapeColumns tape, Located located, TapeCodes before, Deciding deciding, BitSet touched) {
    this.touched = touched;
    this.tape = tape;
    this.located = located;
    this.before = before;
    this.deciding = deciding;
  }

  /** What changed in one block: which lines, their codes before and after. */
  private record OfBlock(int block, int[] lines, int[] was, int[] becomes) {}

  /** Every line of which the code is another one, or stands for something else. */
  final class Result {
    private final List<OfBlock> blocks;

    private Result(List<OfBlock> blocks) {
      this.blocks = blocks;
    }

    /** Their numbers, ascending. */
    long[] lines() {
      return blocks.stream()
          .flatMapToLong(
              one -> Arrays.stream(one.lines()).mapToLong(i -> TapeCodes.number(one.block(), i)))
          .toArray();
    }

    /** The codes of the lines with those that are other ones. */
    TapeCodes codes() {
      long[] numbers = new long[blocks.stream().mapToInt(one -> one.lines().length).sum()];
      int[] codes = new int[numbers.length];
      int count = 0;
      for (OfBlock one : blocks) {
        for (int i = 0; i < one.lines().length; i++) {
          if (one.was()[i] != one.becomes()[i]) {
            numbers[count] = TapeCodes.number(one.block(), one.lines()[i]);
            codes[count++] = one.becomes()[i];
          }
        }
      }
      return before.with(Arrays.copyOf(numbers, count), Arrays.copyOf(codes, count));
    }

    /**
     * Moves what the lines come to from their old codes to their new ones.
     *
     * @param unsure gets the codes that lost a line as late as their last
     */
    void apply(CatchSums sums, BitSet unsure) {
      for (OfBlock one : blocks) {
        LineBlock block = tape.blocks().get(one.block());
        for (int i = 0; i < one.lines().length; i++) {
          if (one.was()[i] == one.becomes()[i]) {
            continue;
          }
          int line = one.lines()[i];
          int minute = (int) block.value(Column.MINUTE, line);
          long times = block.value(Column.TIMES, line);
          long up = block.value(Column.UP, line);
          long down = block.value(Column.DOWN, line);
          sums.remove(one.was()[i], times, up, down);
          if (minute >= sums.last(one.was()[i])) {
            unsure.set(one.was()[i]);
          }
          sums.add(one.becomes()[i], minute, times, up, down);
        }
      }
    }
  }

  /**
   * Decides them.
   *
   * @param concerned the numbers of the conversations, ascending
   */
  Result of(int[] concerned) {
    if (concerned.length == 0) {
      return new Result(List.of());
    }
    BitSet isConcerned = new BitSet();
    for (int conversation : concerned) {
      isConcerned.set(conversation);
    }
    List<List<OfBlock>> stripes =
        RecordedDecisions.striped(
            tape.blocks().size(),
            stripe -> {
              Room room = new Room();
              return stripe
                  .mapToObj(b -> of(b, concerned, isConcerned, room))
                  .flatMap(Stream::ofNullable)
                  .toList();
            });
    return new Result(
        stripes.stream()
            .flatMap(List::stream)
            .sorted(Comparator.comparingInt(OfBlock::block))
            .toList());
  }

  private static final class Room {
    private final int[] conversations = new int[LineBlock.MOST];
    private final int[] lines = new int[LineBlock.MOST];
    private final int[] minutes = new int[LineBlock.MOST];
    private final int[] was = new int[LineBlock.MOST];
    private final int[] becomes = new int[LineBlock.MOST];
    private final Deciding.Room deciding = new Deciding.Room(LineBlock.MOST);
  }

  /** Writes the lines of a block that are of these conversations into the room. */
  private static int find(LineBlock block, int[] concerned, BitSet isConcerned, Room room) {
    int count = 0;
    if (block.isSorted() && concerned.length < block.count() / LOOKED_UP) {
      for (int conversation : concerned) {
        int line = block.firstOf(conversation);
        while (line < block.count() && block.value(Column.CONVERSATION, line) == conversation) {
          room.lines[count] = line++;
          room.conversations[count++] = conversation;
        }
      }
      return count;
    }
    block.read(Column.CONVERSATION, room.conversations);
    for (int i = 0; i < block.count(); i++) {
      int conversation = room.conversations[i];
      if (isConcerned.get(conversation)) {
        room.lines[count] = i;
        room.conversations[count++] = conversation;
      }
    }
    return count;
  }

  private OfBlock of(int number, int[] concerned, BitSet isConcerned, Room room) {
    LineBlock block = tape.blocks().get(number);
    int count = find(block, concerned, isConcerned, room);
    if (count == 0) {
      return null;
    }
    for (int i = 0; i < count; i++) {
      room.minutes[i] = (int) block.value(Column.MINUTE, room.lines[i]);
    }
    deciding.decide(
        located,
        tape.conversations(),
        room.conversations,
        room.minutes,
        count,
        room.becomes,
        room.deciding);
    int changed = 0;
    for (int i = 0; i < count; i++) {
      int was = before.code(TapeCodes.number(number, room.lines[i]));
      if (was != room.becomes[i] || touched.get(was)) {
        room.lines[changed] = room.lines[i];
        room.becomes[changed] = room.becomes[i];
        room.was[changed++] = was;
      }
    }
    return changed == 0
        ? null
        : new OfBlock(
            number,
            Arrays.copyOf(room.lines, changed),
            Arrays.copyOf(room.was, changed),
            Arrays.copyOf(room.becomes, changed));
  }
}
