package ironsieve.model;

import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;

/**
 * One line of a rulebase.
 *
 * @param id stable for the rule's whole life; unique in its rulebase
 * @param name a short title; may be empty
 * @param state an {@link State#OFF} rule does not exist for decisions and the review
 * @param match which connections it is about
 * @param then what happens to those it catches
 * @param metadata why it is there, who answers for it, until when
 */
public record Rule(
    String id, String name, State state, Match match, Then then, RuleMetadata metadata) {

  /** A rule with a note on why it is there. */
  public Rule(String id, String name, State state, Match match, Then then, String note) {
    this(id, name, state, match, then, RuleMetadata.note(note));
  }

  /** Whether a rule takes part. */
  public enum State {
    ON,
    OFF
  }

  /** Whether the rule holds each of its applications to that application's usual ports. */
  public enum Ports {
    ANY,
    USUAL
  }

  /** Whether a catch is recorded. */
  public enum Logging {
    LOGGED,
    NOT_LOGGED
  }

  /**
   * Which connections a rule is about: all fields must match, a missing field matches everything.
   *
   * @param fields in reading order
   * @param ports with {@link Ports#USUAL} an application counts only on its usual ports
   */
  public record Match(Map<FieldName, Field> fields, Ports ports) {

    public Match {
      EnumMap<FieldName, Field> ordered = new EnumMap<>(FieldName.class);
      ordered.putAll(fields);
      fields = java.util.Collections.unmodifiableMap(ordered);
    }

    /** A match on everything. */
    public static Match any() {
      return new Match(Map.of(), Ports.ANY);
    }

    /** The field, or nothing where the rule says any. */
    public Optional<Field> field(FieldName name) {
      return Optional.ofNullable(fields.get(name));
    }

    /** This match with one field set. */
    public Match with(FieldName name, Field field) {
      Map<FieldName, Field> changed = new EnumMap<>(FieldName.class);
      changed.putAll(fields);
      changed.put(name, field);
      return new Match(changed, ports);
    }
  }

  /**
   * What happens to a catch.
   *
   * @param outcome what happens
   * @param sheet the name of the usage sheet asked after the catch; only with a plain allow
   */
  public record Then(Outcome outcome, Logging logging, Optional<String> sheet) {

    public Then {
      if (sheet.isPresent() && outcome.verdict() != Verdict.ALLOW) {
        throw new IllegalArgumentException(
            "only an allow carries a usage sheet, not a rule that says "
                + outcome.verdict().word());
      }
    }

    /** A bare verdict. */
    public Then(Verdict verdict, Logging logging) {
      this(Outcome.of(verdict), logging, Optional.empty());
    }

    public Verdict verdict() {
      return outcome.verdict();
    }
  }

  /** Notes; may be empty. */
  public String note() {
    return metadata.note();
  }

  /** Whether the rule takes part in decisions. */
  public boolean isOn() {
    return state == State.ON;
  }
}
