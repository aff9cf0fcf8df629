package ironsieve.model;

import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;

/**
 * Recorded traffic: connections that were seen, with how often.
 *
 * @param name what the tape is called
 * @param gone how many connections are on it that name somebody or something there no longer is
 */
public record Tape(String name, List<Line> lines, long gone) {

  /** Stands for no sample. */
  public static final int NO_SAMPLE = -1;

  /** A tape on which every line can be read. */
  public Tape(String name, List<Line> lines) {
    this(name, lines, 0);
  }

  /** What a record of a connection may not say. */
  public enum Unsaid {
    PERSON("person"),
    DEVICE("device"),
    HOST("host name"),
    APPLICATION("application");

    private final String word;

    Unsaid(String word) {
      this.word = word;
    }

    /** The word for it. */
    public String word() {
      return word;
    }
  }

  /**
   * A connection that was seen.
   *
   * @param connection what is known of it; what is not said of it has no meaning there
   * @param times how often, at least once
   * @param volume how much went over it, all times together
   * @param unsaid what the record does not say: it may have been anything
   * @param sample which of the samples kept with the tape shows what it was told by; -1 for none
   */
  public record Line(
      Connection connection, long times, Volume volume, Set<Unsaid> unsaid, int sample) {

    public Line {
      unsaid = unsaid.isEmpty() ? Set.of() : Collections.unmodifiableSet(EnumSet.copyOf(unsaid));
    }

    /** A connection of which everything is said but how much went over it. */
    public Line(Connection connection, long times) {
      this(connection, times, Volume.NONE, Set.of(), NO_SAMPLE);
    }
  }

  /** Bytes from the client and to it; none where that was not recorded. */
  public record Volume(long up, long down) {

    public static final Volume NONE = new Volume(0, 0);

    /** Both together. */
    public long both() {
      return up + down;
    }

    /** With more. */
    public Volume and(Volume other) {
      return new Volume(up + other.up, down + other.down);
    }
  }

  public Tape {
    lines = List.copyOf(lines);
  }

  /** The same where the samples are not at hand. */
  public Tape withoutSamples() {
    return new Tape(
        name,
        lines.stream()
            .map(
                line ->
                    line.sample() == NO_SAMPLE
                        ? line
                        : new Line(
                            line.connection(),
                            line.times(),
                            line.volume(),
                            line.unsaid(),
                            NO_SAMPLE))
            .toList(),
        gone);
  }
}
