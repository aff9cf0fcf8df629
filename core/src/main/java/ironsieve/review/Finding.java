package ironsieve.review;

import ironsieve.model.FieldName;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Something the review has to say about a rule.
 *
 * @param kind what it is
 * @param severity how much it matters here
 * @param rule the id of the rule it is about
 * @param said one plain sentence
 * @param evidence the rules it comes from, each with a witness
 * @param fields the fields that clash; empty unless the claim is
 */
public record Finding(
    Kind kind,
    Severity severity,
    String rule,
    Message said,
    List<Evidence> evidence,
    List<FieldName> fields) {

  /** What a finding can be. */
  public enum Kind {
    /** It uses a name that stands for nothing here, so it matches less, or more, than it says. */
    UNKNOWN_NAME,
    /** The claim has no connection in it. */
    EMPTY,
    /** Nothing of the claim reaches the rule, and some of it gets another verdict above. */
    SHADOWED,
    /** All of the claim gets the same verdict from rules above, or would from what lies below. */
    REDUNDANT,
    /** Some of the claim is decided otherwise by rules above. */
    PARTLY_SHADOWED,
    /** Rules above lie wholly inside this one and decide otherwise, as exceptions do. */
    EXCEPTION,
    /** It and a rule above overlap, decide otherwise, and neither holds the other. */
    ORDER_MATTERS,
    /** An application it lets through needs another one that is not let through. */
    MISSING_DEPENDENCY,
    /** It tells features apart where the content stays encrypted. */
    BLIND_FEATURE,
    /** It stops connections only after some of them have been let through for a while. */
    LEAKS_FIRST,
    /** It lets through to an outside zone with neither an application nor a usage sheet. */
    NO_LIMITS,
    /** Reaching the gateway for administration hangs on identities alone, or on no rule. */
    LOCK_OUT,
    /** With it, lanes guarantee more than the link carries. */
    OVERPROMISED,
    /** It lets through to or from an outside zone and does not say so in the log. */
    UNLOGGED,
    /** The day by which somebody should have looked at it again has passed. */
    OVERDUE,
    /** Nobody wrote down why it is there. */
    UNNOTED,
    /** Something can reach it, but nothing in the recorded traffic fell on it. */
    UNUSED,
    /** It leaves two of source, destination and use open. */
    TOO_WIDE,
    /** A question took more work than its budget. */
    UNDETERMINED;

    /** What it is called, on screen and where somebody has accepted it. */
    public String word() {
      return this == NO_LIMITS
          ? "no limits on what it may use"
          : name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }
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
   * @param rule its id; empty for the default verdict
   * @param part the part of the claim it is about, in words; empty for all of it
   * @param otherwise how much of the claim that rule catches and gives another verdict, where the
   *     finding is about that
   * @param witness a connection that proves it and lies in that part
   */
  public record Evidence(String rule, String part, Optional<Share> otherwise, Witness witness) {

    /** Evidence that comes from no other rule. */
    static Evidence of(Witness witness) {
      return new Evidence("", "", Optional.empty(), witness);
    }
  }
}
