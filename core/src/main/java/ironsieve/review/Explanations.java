package ironsieve.review;

import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** One level deeper than a finding's sentence: what it means, what it rests on, what to do. */
public final class Explanations {

  private final Review review;
  private final Map<String, Integer> numbers = new HashMap<>();

  /** Explanations of a review of this rulebase. */
  public Explanations(Rulebase rulebase, Review review) {
    this.review = review;
    for (Rule rule : rulebase.rules()) {
      numbers.put(rule.id(), numbers.size() + 1);
    }
  }

  /** A few plain sentences about a finding. */
  public List<String> of(Finding finding) {
    List<String> said = new ArrayList<>();
    said.add(meaning(finding.kind()));
    said.addAll(grounds(finding));
    return said;
  }

  private static String meaning(Finding.Kind kind) {
    return switch (kind) {
      case UNKNOWN_NAME ->
          "What the name stood for was removed, or was never there where the rule came from. Until the"
              + " name is replaced or means something again, the rule goes on with its other values;"
              + " a field turned round holds more than was meant.";
      case EMPTY ->
          "A rule's fields must all hold at once; here no connection there can be fulfils them"
              + " together, so the rule does nothing.";
      case SHADOWED ->
          "Rules are read from the top and the first that matches decides. Every connection this"
              + " rule matches meets one of the rules named first, so it never decides anything.";
      case REDUNDANT ->
          "What happens to each connection stays the same whether this rule is there or not; it"
              + " only makes the rulebase longer.";
      case PARTLY_SHADOWED ->
          "Some of what this rule matches meets a rule above first and gets another verdict there."
              + " That may be meant; if it is not, the order is wrong.";
      case EXCEPTION ->
          "A narrower rule above a broader one, with another verdict: the usual way to carve"
              + " something out.";
      case ORDER_MATTERS ->
          "Each of the two rules matches something the other does not. What is common to both is"
              + " decided by whichever stands higher; exchanging them would give it another verdict.";
      case MISSING_DEPENDENCY ->
          "The catalogue says that an application works only if another one does. The other one is"
              + " asked for from the same places, people and devices, at the same times.";
      case BLIND_FEATURE ->
          "The application travels inside an encrypted carrier. Without decrypting it the gateway sees the"
              + " application, but not what is done in it.";
      case LEAKS_FIRST ->
          "The application is not known at the first packet. Until it is, the gateway lets the"
              + " connection go on if a rule that lets through is still possible.";
      case NO_LIMITS ->
          "Whatever somebody runs inside can reach the outside through this rule. A usage sheet or"
              + " named applications would say what it is for.";
      case LOCK_OUT ->
          "SSH and HTTPS to the gateway were asked for with nobody known, as when the directory is"
              + " down. A rule by address alone is the spare key.";
      case OVERPROMISED ->
          "A guarantee holds only while all guarantees together fit through the link. A lane for"
              + " each client counts once for every client reckoned with.";
      case UNLOGGED -> "Without a trace nobody can say later what came or went this way.";
      case OVERDUE ->
          "Somebody wished to look at this rule again by then. What it was for may be over; if it is"
              + " not, a later day says so.";
      case UNNOTED -> "In a year nobody will dare to remove it.";
      case UNUSED ->
          "Every recorded connection was run through the rulebase as it is now. Either nobody needs"
              + " this rule, or what it is for happens too seldom to be on tape.";
      case TOO_WIDE ->
          "A rule that leaves two of source, destination and use open lets through far more than"
              + " anybody asked for.";
      case UNDETERMINED ->
          "The question is decided exactly or not at all. More budget for the review may settle it.";
    };
  }

  private List<String> grounds(Finding finding) {
    List<String> said = new ArrayList<>();
    Residue residue = review.residue(finding.rule());
    switch (finding.kind()) {
      case SHADOWED, PARTLY_SHADOWED, REDUNDANT -> {
        said.add(Words.percent(residue.share()) + " of what it matches is still left to it.");
        residue.takers().stream()
            .limit(6)
            .forEach(
                taker ->
                    said.add(
                        "Rule "
                            + numbers.get(taker.rule())
                            + " takes "
                            + Words.percent(taker.share())
                            + taker
                                .otherwise()
                                .map(
                                    share -> ", " + Words.percent(share) + " with another verdict.")
                                .orElse(", decided the same.")));
      }
      case BLIND_FEATURE, EMPTY, UNKNOWN_NAME ->
          finding.fields().forEach(field -> said.add("Look at the field " + field.label() + "."));
      default -> {
        // The sentence and its witness say it all.
      }
    }
    return said;
  }
}
