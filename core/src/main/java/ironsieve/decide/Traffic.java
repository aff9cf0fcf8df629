package ironsieve.decide;

import ironsieve.compile.ImpossibleConnectionException;
import ironsieve.compile.Space;
import ironsieve.model.Tape;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.WeakHashMap;

/**
 * The lines of some tapes. Remembers where they lie in each space that is still in use, for most
 * edits leave the space as it is, and finding the places takes longer than dropping the lines.
 */
public final class Traffic {

  private final List<Tape.Line> lines;
  private final long gone;
  private final Map<Space, List<Optional<int[]>>> located =
      Collections.synchronizedMap(new WeakHashMap<>());

  private Traffic(List<Tape.Line> lines, long gone) {
    this.lines = lines;
    this.gone = gone;
  }

  /** The lines of all these tapes together. */
  public static Traffic of(List<Tape> tapes) {
    return new Traffic(
        tapes.stream().flatMap(tape -> tape.lines().stream()).toList(),
        tapes.stream().mapToLong(Tape::gone).sum());
  }

  /** How many connections name somebody or something there no longer is. */
  long gone() {
    return gone;
  }

  List<Tape.Line> lines() {
    return lines;
  }

  /** For each line its point, or nothing if there can be no such connection. */
  List<Optional<int[]>> points(Space space) {
    return located.computeIfAbsent(
        space, in -> lines.stream().map(line -> point(in, line)).toList());
  }

  private static Optional<int[]> point(Space space, Tape.Line line) {
    try {
      return Optional.of(space.point(line.connection()));
    } catch (ImpossibleConnectionException e) {
      // Zones and networks may have changed since; the line is counted, not lost.
      return Optional.empty();
    }
  }
}
