package ironsieve.recorded;

import ironsieve.compile.Dimension;
import ironsieve.compile.Space;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.ToIntFunction;

/**
 * Where the conversations of a tape lie in a space: for each value the atom it is, found once
 * however many lines it stands in.
 */
final class Located {

  /** Of a span longer than this each line's time is looked up; some eight years. */
  private static final int MOST_MINUTES = 1 << 22;

  private final int[][] columns;
  private final int[][] atoms = new int[Conversations.PARTS][];
  private final byte[][] versions = new byte[Conversations.PARTS][];
  private final int firstMinute;
  private final int[] times;
  // For each minute which of the times told apart it is, and of each of those a minute.
  private final short[] timeNumbers;
  private final int[] minutes;

  Located(TapeColumns tape, Space space) {
    Values values = tape.values();
    columns = new int[Conversations.PARTS][];
    for (int d = 0; d < columns.length; d++) {
      columns[d] = tape.conversations().column(d);
    }
    locate(space, Dimension.FROM, values.from(), space::atom);
    locate(space, Dimension.PERSON, values.people(), space::personAtom);
    locate(space, Dimension.DEVICE, values.devices(), space::atom);
    locate(space, Dimension.TO, values.to(), space::atom);
    locate(space, Dimension.SITE, values.hosts(), space::hostAtom);
    locate(space, Dimension.SERVICE, values.services(), space::atom);
    locate(space, Dimension.USING, values.uses(), space::atom);
    firstMinute = tape.first().orElse(0);
    long span = 1L + tape.last().orElse(0) - firstMinute;
    times = space.atoms(firstMinute, span > MOST_MINUTES ? 0 : (int) span);
    Map<Integer, Integer> numbers = new HashMap<>();
    List<Integer> examples = new ArrayList<>();
    timeNumbers = new short[times.length];
    for (int i = 0; i < times.length; i++) {
      if (i > 0 && times[i] == times[i - 1]) {
        timeNumbers[i] = timeNumbers[i - 1];
        continue;
      }
      Integer number = numbers.get(times[i]);
      if (number == null) {
        number = examples.size();
        numbers.put(times[i], number);
        examples.add(firstMinute + i);
      }
      timeNumbers[i] = (short) Math.min(number, Short.MAX_VALUE);
    }
    minutes = examples.stream().mapToInt(Integer::intValue).toArray();
  }

  /** How many times rules tell apart among those of the tape; very many where nobody counted. */
  int timesToldApart() {
    return times.length == 0 || minutes.length > Short.MAX_VALUE
        ? Integer.MAX_VALUE
        : minutes.length;
  }

  /** Which of the times told apart a minute is, from 0. */
  int timeNumber(int minute) {
    return timeNumbers[minute - firstMinute];
  }

  /** A minute of one of the times told apart. */
  int minuteOf(int timeNumber) {
    return minutes[timeNumber];
  }

  private <T> void locate(Space space, Dimension dimension, List<T> values, ToIntFunction<T> atom) {
    int d = dimension.ordinal();
    int[] found = new int[values.size()];
    byte[] possible = new byte[values.size()];
    for (int i = 0; i < found.length; i++) {
      found[i] = atom.applyAsInt(values.get(i));
      possible[i] = found[i] < 0 ? 0 : (byte) space.versionsAt(d, found[i]);
    }
    atoms[d] = found;
    versions[d] = possible;
  }

  /**
   * Whether there can be such a conversation; else an address lies elsewhere, or a name is gone.
   */
  boolean isPossible(int conversation) {
    int possible = -1;
    for (int d = 0; d < columns.length; d++) {
      possible &= versions[d][columns[d][conversation]];
    }
    return possible != 0;
  }

  /**
   * The atom of a time.
   *
   * @param space the same; who held on to it here would keep it from ever being forgotten
   */
  int timeAtom(Space space, int minute) {
    return times.length == 0 ? space.atom(Minutes.time(minute)) : times[minute - firstMinute];
  }

  /** Writes the atoms of a possible conversation into a row, but for its time. */
  void write(int conversation, int[] into, int at) {
    for (int d = 0; d < columns.length; d++) {
      into[at + d] = atoms[d][columns[d][conversation]];
    }
  }

  /** The atoms that the values of a part are; −1 for none. */
  int[] atoms(int part) {
    return atoms[part];
  }
}
