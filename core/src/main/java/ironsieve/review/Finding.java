package ironsieve.review;

import ironsieve.model.FieldName;
import java.util.List;

/**
 * Something the review has to say about a rule.
 *
 * @param kind what it is
 * @param severity how much it matters here
 * @param rule the id of the rule it is about
 * @param sentence one plain sentence
 * @param evidence the rules it comes from, each with a witness
 * @param fields the fields that clash; empty unless the claim is
 */
public record Finding(
    Kind kind,
    Severity severity,
    String rule,
    String sentence,
    List<Evidence> evidence,
    List<FieldName> fields) {

  /** What a finding can be. */
  public enum Kind {
    /** The claim has no connection in it. */
    EMPTY,
    /**
     * Nothing of the claim reaches the rule, and no rules above that decide the same would do
     * alone.
     */
    SHADOWED,
    /** Rules above that decide the same, or what lies below, make the rule superfluous. */
    REDUNDANT,
    /** Some of the claim is decided otherwise by rules above. */
    PARTLY_SHADOWED,
    /** Rules above lie wholly inside this one and decide otherwise, as exceptions do. */
    EXCEPTION,
    /** A question took more work than its budget. */
    UNDETERMINED
  }

  /** How much a finding matters, worst first. */
  public enum Severity {
    ERROR,
    WARNING,
    NOTE,
    /** Normal; worth knowing, not worth a mark. */
    QUIET
  }

  public Finding {
    evidence = List.copyOf(evidence);
    fields = List.copyOf(fields);
  }

  /**
   * One rule that a finding comes from.
   *
   * @param rule its id; empty for the last line
   * @param part the part of the claim it is about, in words; empty for all of it
   * @param witness a connection that proves it
   */
  public record Evidence(String rule, String part, Witness witness) {}
}
