package ironsieve.server.sources;

import ironsieve.server.sources.Brought.Mark;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/**
 * What is known of a source beside what the workspace says of it, as the database keeps it.
 *
 * @param lookedAt when it was last asked; null if never
 * @param goodAt when that last went well; null if never
 * @param problem why it did not the last time, in a sentence; empty if it did
 * @param mark what to send the next time
 * @param brought the ids of what it brought, by the word of their kind
 * @param waiting how many changes wait for somebody to look at them; 0 for none
 * @param waitingSince since when; null if none do
 * @param waitingWhy why, where it is not only that somebody is to look first; else empty
 * @param leftOut what of it was not taken, in a sentence each
 * @param told what else to say of what came last; else empty
 * @param resolved for each host name what was found out of it
 */
public record SourceState(
    Instant lookedAt,
    Instant goodAt,
    String problem,
    Mark mark,
    Map<String, Set<String>> brought,
    int waiting,
    Instant waitingSince,
    String waitingWhy,
    List<String> leftOut,
    String told,
    Map<String, Resolved> resolved) {

  /** Of a source that nobody has looked at yet. */
  static final SourceState NEW =
      new SourceState(null, null, "", Mark.NONE, Map.of(), 0, null, "", List.of(), "", Map.of());

  private static final int MOST_LEFT_OUT = 100;

  public SourceState {
    problem = problem == null ? "" : problem;
    mark = mark == null ? Mark.NONE : mark;
    brought = brought == null ? Map.of() : new TreeMap<>(brought);
    waitingWhy = waitingWhy == null ? "" : waitingWhy;
    leftOut =
        leftOut == null
            ? List.of()
            : List.copyOf(leftOut.subList(0, Math.min(MOST_LEFT_OUT, leftOut.size())));
    told = told == null ? "" : told;
    resolved = resolved == null ? Map.of() : new TreeMap<>(resolved);
  }

  /**
   * What was found out of a host name.
   *
   * @param at when
   * @param seconds how long that holds
   * @param problem why nothing was; else empty
   */
  public record Resolved(Instant at, long seconds, String problem) {}

  /** When each host name was last resolved. */
  public Map<String, Instant> resolvedAt() {
    Map<String, Instant> at = new TreeMap<>();
    resolved.forEach(
        (host, one) -> {
          if (one.problem().isEmpty()) {
            at.put(host, one.at());
          }
        });
    return at;
  }

  /** It could not be read. */
  SourceState failed(Instant now, String why) {
    return new SourceState(
        now,
        goodAt,
        why,
        mark,
        brought,
        waiting,
        waitingSince,
        waitingWhy,
        leftOut,
        told,
        resolved);
  }

  /** It has nothing new; what waits still does. */
  SourceState same(Instant now) {
    return new SourceState(
        now, now, "", mark, brought, waiting, waitingSince, waitingWhy, leftOut, told, resolved);
  }

  /** What came is all in the workspace. */
  SourceState adopted(
      Instant now, Mark next, Map<String, Set<String>> ids, List<String> out, String say) {
    return new SourceState(now, now, "", next, ids, 0, null, "", out, say, resolved);
  }

  /** What came waits for somebody to look at it. */
  SourceState waiting(Instant now, Mark next, int changes, String why, List<String> out) {
    return new SourceState(now, now, "", next, brought, changes, now, why, out, "", resolved);
  }

  /** What waits has been let go; it comes again when the source is read anew. */
  SourceState dropped() {
    return new SourceState(
        lookedAt, goodAt, problem, Mark.NONE, brought, 0, null, "", leftOut, told, resolved);
  }

  /** The same with what was found out of host names. */
  SourceState with(Map<String, Resolved> names) {
    return new SourceState(
        lookedAt,
        goodAt,
        problem,
        mark,
        brought,
        waiting,
        waitingSince,
        waitingWhy,
        leftOut,
        told,
        names);
  }
}
