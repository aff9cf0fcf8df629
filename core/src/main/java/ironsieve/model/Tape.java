package ironsieve.model;

import java.util.List;

/**
 * Recorded traffic: connections that were seen, with how often.
 *
 * @param name what the tape is called
 */
public record Tape(String name, List<Line> lines) {

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
