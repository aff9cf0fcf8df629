package ironsieve.model;

import java.util.List;

/**
 * Recorded traffic: connections that were seen, with how often.
 *
 * @param name what the tape is called
 * @param gone how many connections are on it that name somebody or something there no longer is
 */
public record Tape(String name, List<Line> lines, long gone) {

  /** A tape on which every line can be read. */
  public Tape(String name, List<Line> lines) {
    this(name, lines, 0);
  }

  /**
   * A connection that was seen.
   *
   * @param times how often, at least once
   */
  public record Line(Connection connection, long times) {}

  public Tape {
    lines = List.copyOf(lines);
  }
}
