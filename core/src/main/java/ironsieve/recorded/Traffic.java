package ironsieve.recorded;

import ironsieve.compile.Space;
import ironsieve.model.Tape;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.WeakHashMap;

/**
 * Some tapes together. Remembers where they lie in each space that is still in use, for most edits
 * leave the space as it is.
 */
public final class Traffic {

  private final List<TapeColumns> tapes;
  private final Map<Space, List<Located>> located =
      Collections.synchronizedMap(new WeakHashMap<>());

  private Traffic(List<TapeColumns> tapes) {
    this.tapes = List.copyOf(tapes);
  }

  /** These tapes together. */
  public static Traffic ofColumns(List<TapeColumns> tapes) {
    return new Traffic(tapes);
  }

  /** Tapes whose lines lie in memory. */
  public static Traffic of(List<Tape> tapes) {
    return new Traffic(tapes.stream().map(TapeColumns::of).toList());
  }

  /** The tapes. */
  public List<TapeColumns> tapes() {
    return tapes;
  }

  /** The minute of the first line of all; none where there is no line. */
  public OptionalInt first() {
    return tapes.stream().flatMapToInt(tape -> tape.first().stream()).min();
  }

  /** The minute of the last line of all. */
  public OptionalInt last() {
    return tapes.stream().flatMapToInt(tape -> tape.last().stream()).max();
  }

  /** How many connections name somebody or something of which only that is known. */
  long gone() {
    return tapes.stream().mapToLong(TapeColumns::gone).sum();
  }

  /** For each tape where its conversations lie. */
  List<Located> in(Space space) {
    return located.computeIfAbsent(
        space, in -> tapes.parallelStream().map(tape -> new Located(tape, in)).toList());
  }
}
