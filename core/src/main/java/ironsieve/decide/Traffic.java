package ironsieve.decide;

import ironsieve.compile.ImpossibleConnectionException;
import ironsieve.compile.Space;
import ironsieve.model.Tape;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The lines of some tapes. Remembers where they lie in the space it was last asked about, for most
 * edits leave the space as it is, and finding the places takes longer than dropping the lines.
 */
public final class Traffic {

  private final List<Tape.Line> lines;
  private volatile Located located;

  /** The points of the lines in one space; nothing for those there cannot be. */
  private record Located(Space space, List<Optional<int[]>> points) {}

  private Traffic(List<Tape.Line> lines) {
    this.lines = lines;
  }

  /** The lines of all these tapes together. */
  public static Traffic of(List<Tape> tapes) {
    return new Traffic(tapes.stream().flatMap(tape -> tape.lines().stream()).toList());
  }

  List<Tape.Line> lines() {
    return lines;
  }

  /** For each line its point, or nothing if there can be no such connection. */
  List<Optional<int[]>> points(Space space) {
    Located known = located;
    if (known == null || known.space() != space) {
      List<Optional<int[]>> points = new ArrayList<>(lines.size());
      lines.forEach(line -> points.add(point(space, line)));
      known = new Located(space, points);
      located = known;
    }
    return known.points();
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
