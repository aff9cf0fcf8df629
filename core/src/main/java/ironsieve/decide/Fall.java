package ironsieve.decide;

import ironsieve.compile.Knowledge;
import ironsieve.model.Connection;
import ironsieve.model.FieldName;
import ironsieve.model.Outcome;
import java.util.List;
import java.util.Optional;

/**
 * The way of one connection through a rulebase.
 *
 * @param connection what was dropped
 * @param passed the rules it passes with everything known that a gateway can get to know, from the
 *     top
 * @param caught what it falls on then
 * @param below the rules below that match it too, from the top, and what each of them would do
 * @param stages how it unfolds at the gateway, stage by stage; only the last one is not provisional
 */
public record Fall(
    Connection connection, List<Pass> passed, Catch caught, List<Below> below, List<Stage> stages) {

  public Fall {
    passed = List.copyOf(passed);
    below = List.copyOf(below);
    stages = List.copyOf(stages);
  }

  /**
   * What is known at one stage, and what follows.
   *
   * @param knowledge what is known by then
   * @param waiting the rules above the first that is sure which cannot say yet, from the top
   * @param rule the first rule that surely claims the connection; nothing for the default verdict
   * @param outcomes what that can come to; several while its usage sheet waits to know more
   * @param status what the gateway does
   */
  public record Stage(
      Knowledge knowledge,
      List<Wait> waiting,
      Optional<String> rule,
      List<Outcome> outcomes,
      Status status) {

    /** What a gateway does at a stage. */
    public enum Status {
      /** Lets the connection go on until it knows more. */
      PROVISIONAL,
      /** Stops it: whatever it may turn out to be, it would be stopped in this way. */
      STOPPED_EARLY,
      /** Has decided. */
      DECIDED
    }

    public Stage {
      waiting = List.copyOf(waiting);
      outcomes = List.copyOf(outcomes);
    }
  }

  /**
   * A rule that cannot say yet.
   *
   * @param rule its id
   * @param fields the fields that hang on what is not known yet
   */
  public record Wait(String rule, List<FieldName> fields) {

    public Wait {
      fields = List.copyOf(fields);
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
   * A rule that matches the connection and comes too late.
   *
   * @param rule its id
   * @param outcome what it would do
   */
  public record Below(String rule, Outcome outcome) {}

  /**
   * What a connection fell on.
   *
   * @param rule the rule's id, or nothing for the default verdict
   * @param outcome what happens to it
   * @param matches for each field of the rule, what held the connection
   */
  public record Catch(Optional<String> rule, Outcome outcome, List<Reason> matches) {

    public Catch {
      matches = List.copyOf(matches);
    }
  }
}
