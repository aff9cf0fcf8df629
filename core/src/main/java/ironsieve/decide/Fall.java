package ironsieve.decide;

import ironsieve.model.Connection;
import ironsieve.model.Verdict;
import java.util.List;
import java.util.Optional;

/**
 * The way of one connection through a rulebase.
 *
 * @param connection what was dropped
 * @param stages what happened at each stage of knowledge, in order; the last one is final. While a
 *     connection is given with all there is to know, there is only the stage {@link
 *     Stage.Knowledge#READ}.
 */
public record Fall(Connection connection, List<Stage> stages) {

  public Fall {
    stages = List.copyOf(stages);
  }

  /** The stage that decided. */
  public Stage last() {
    return stages.get(stages.size() - 1);
  }

  /**
   * One walk from the top.
   *
   * @param knowledge what was known by then
   * @param passed the rules passed, from the top
   * @param caught what it fell on
   */
  public record Stage(Knowledge knowledge, List<Pass> passed, Catch caught) {

    /** How much is known of a connection; each stage includes those before. */
    public enum Knowledge {
      FIRST_PACKET,
      NAMED,
      IDENTIFIED,
      READ
    }

    public Stage {
      passed = List.copyOf(passed);
    }
  }

  /**
   * A rule passed.
   *
   * @param rule its id
   * @param misses every field that did not match, in reading order; at least one
   */
  public record Pass(String rule, List<Reason> misses) {

    public Pass {
      misses = List.copyOf(misses);
    }
  }

  /**
   * What a connection fell on.
   *
   * @param rule the rule's id, or nothing for the last line
   * @param verdict what happens to it
   * @param matches for each field of the rule, what held the connection
   */
  public record Catch(Optional<String> rule, Verdict verdict, List<Reason> matches) {

    public Catch {
      matches = List.copyOf(matches);
    }
  }
}
