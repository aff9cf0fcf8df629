package ironsieve.recorded;

import ironsieve.compile.Dimension;
import ironsieve.model.Connection;
import ironsieve.model.Tape;
import ironsieve.recorded.LineBlock.Column;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalInt;

/**
 * A tape as columns of numbers. Of ten million lines with a million conversations it takes some 200
 * MB, most of it in blocks that may lie in mapped files.
 *
 * @param name what the tape is called
 * @param gone how many connections are on it of which only that is known
 */
public record TapeColumns(
    String name, Values values, Conversations conversations, List<LineBlock> blocks, long gone) {

  private static final long BYTES_OF_A_WORD = 100;

  public TapeColumns {
    blocks = List.copyOf(blocks);
  }

  /** A tape of lines that lie in memory. */
  public static TapeColumns of(Tape tape) {
    return of(tape, BlockStore.inMemory());
  }

  /** The same in blocks of so many lines, as larger tapes have several. */
  public static TapeColumns inBlocks(Tape tape, int lines) {
    return of(tape, BlockStore.inMemory(), lines);
  }

  /** The same, its blocks in a store. */
  public static TapeColumns of(Tape tape, BlockStore blocks) {
    return of(tape, blocks, LineBlock.MOST);
  }

  private static TapeColumns of(Tape tape, BlockStore blocks, int lines) {
    ColumnsBuilder builder = ColumnsBuilder.inOrder(blocks::add, lines);
    tape.lines().forEach(builder::add);
    return of(tape.name(), builder.built(), blocks.all(), tape.gone());
  }

  /** A tape that was built, with the blocks the builder handed on. */
  public static TapeColumns of(
      String name, ColumnsBuilder.Built built, List<LineBlock> blocks, long gone) {
    return new TapeColumns(name, built.values(), built.conversations(), blocks, gone);
  }

  /** About how many bytes of memory it takes besides its blocks. */
  public long bytes() {
    return conversations.bytes() + BYTES_OF_A_WORD * values.count();
  }

  /** How many lines. */
  public long lines() {
    return blocks.stream().mapToLong(LineBlock::count).sum();
  }

  /** How many connections. */
  public long times() {
    return gone + blocks.stream().mapToLong(LineBlock::times).sum();
  }

  /** For each sample, up to a number, how many connections were told by it, and bytes both ways. */
  public long[][] sumsBySample(int samples) {
    long[][] sums = new long[3][samples];
    BlockLines lines = new BlockLines();
    for (LineBlock block : blocks) {
      lines.read(block);
      for (int i = 0; i < lines.count(); i++) {
        int sample = conversations.sample(lines.conversations()[i]);
        if (sample >= 0 && sample < samples) {
          for (int s = 0; s < sums.length; s++) {
            sums[s][sample] += lines.sums()[s][i];
          }
        }
      }
    }
    return sums;
  }

  /** The minute of the first line; none where there is no line. */
  public OptionalInt first() {
    return blocks.stream().mapToInt(LineBlock::first).min();
  }

  /** The minute of the last line. */
  public OptionalInt last() {
    return blocks.stream().mapToInt(LineBlock::last).max();
  }

  /** A conversation at a time. */
  public Connection connection(int conversation, LocalDateTime at) {
    return new Connection(
        at,
        new Connection.Source(
            values.from().get(conversations.part(conversation, Dimension.FROM)),
            values.people().get(conversations.part(conversation, Dimension.PERSON)),
            values.devices().get(conversations.part(conversation, Dimension.DEVICE))),
        new Connection.Destination(
            values.to().get(conversations.part(conversation, Dimension.TO)),
            values.hosts().get(conversations.part(conversation, Dimension.SITE))),
        values.services().get(conversations.part(conversation, Dimension.SERVICE)),
        values.uses().get(conversations.part(conversation, Dimension.USING)));
  }

  /** A line. */
  public Tape.Line line(int block, int line) {
    LineBlock lines = blocks.get(block);
    int conversation = (int) lines.value(Column.CONVERSATION, line);
    return new Tape.Line(
        connection(conversation, Minutes.time((int) lines.value(Column.MINUTE, line))),
        lines.value(Column.TIMES, line),
        new Tape.Volume(lines.value(Column.UP, line), lines.value(Column.DOWN, line)),
        conversations.unsaid(conversation),
        conversations.sample(conversation));
  }

  /** Tells of each line, in order, for somebody who wants few of them or one after the other. */
  public void forEach(java.util.function.Consumer<Tape.Line> to) {
    for (int block = 0; block < blocks.size(); block++) {
      for (int line = 0; line < blocks.get(block).count(); line++) {
        to.accept(line(block, line));
      }
    }
  }

  /** The lines as objects; for tapes of which all fit into memory. */
  public Tape tape() {
    List<Tape.Line> lines = new ArrayList<>();
    forEach(lines::add);
    return new Tape(name, lines, gone);
  }

  /** The same lines of other conversations, or of the same in other words. */
  public TapeColumns with(Values others, Conversations of) {
    return new TapeColumns(name, others, of, blocks, gone);
  }

  /** The same tape from one minute on; blocks that are all on one side are not looked into. */
  public TapeColumns since(int minute) {
    List<LineBlock> left = new ArrayList<>();
    BlockLines lines = new BlockLines();
    for (LineBlock block : blocks) {
      if (block.first() >= minute) {
        left.add(block);
      } else if (block.last() >= minute) {
        lines.read(block);
        left.add(lines.since(minute));
      }
    }
    return new TapeColumns(name, values, conversations, left, gone);
  }

  /** How many lines, and how many connections, there are before a minute. */
  public Before before(int minute) {
    long count = 0;
    long connections = 0;
    BlockLines lines = new BlockLines();
    for (LineBlock block : blocks) {
      if (block.last() < minute) {
        count += block.count();
        connections += block.times();
      } else if (block.first() < minute) {
        lines.read(block);
        for (int i = 0; i < lines.count(); i++) {
          if (lines.minutes()[i] < minute) {
            count++;
            connections += lines.sums()[0][i];
          }
        }
      }
    }
    return new Before(count, connections, count == lines());
  }

  /**
   * What there is before a minute.
   *
   * @param isAll whether there is nothing from then on
   */
  public record Before(long lines, long times, boolean isAll) {}
}
