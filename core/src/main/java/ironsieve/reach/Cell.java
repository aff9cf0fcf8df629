package ironsieve.reach;

import ironsieve.compile.Dimension;
import ironsieve.model.Connection;
import ironsieve.model.Outcome;
import java.util.List;
import java.util.Optional;

/**
 * Whether some people can use some applications between some zones.
 *
 * @param standing allowed, blocked, or it depends
 * @param deciders the rules that decide, those that decide most first
 * @param dependsOn in which dimensions what is let through differs from what is stopped; empty
 *     unless it depends
 * @param extent whether everything was looked at
 */
public record Cell(
    Standing standing, List<Decider> deciders, List<Dimension> dependsOn, Extent extent) {

  /** Whether it can be used. */
  public enum Standing {
    ALLOWED,
    BLOCKED,
    DEPENDS
  }

  /** How much of a question was looked at. */
  public enum Extent {
    COMPLETE,
    PARTIAL
  }

  /**
   * One rule that decides some of it.
   *
   * @param rule its id; nothing for the default verdict
   * @param outcome what happens to that
   * @param share how much of the whole, 0 … 1
   * @param witness one connection it decides
   */
  public record Decider(Optional<String> rule, Outcome outcome, double share, Connection witness) {}

  public Cell {
    deciders = List.copyOf(deciders);
    dependsOn = List.copyOf(dependsOn);
  }
}
