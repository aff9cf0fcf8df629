package ironsieve.review;

import ironsieve.model.Lane;
import ironsieve.text.RateText;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.LongFunction;

/**
 * Everything the review says of a rule, one method a sentence: what the algorithms found goes in as
 * data, and plain English comes out. What a finding means beyond its sentence is said by {@link
 * Explanations}.
 */
final class Sentences {

  private static final int MOST_APPLICATIONS = 4;
  private static final int MOST_UNKNOWN = 4;

  private Sentences() {}

  /**
   * That a rule can match nothing.
   *
   * @param why such as {@code can match nothing: …}
   */
  static Message empty(String why) {
    return Message.text("This rule " + why + ".");
  }

  /**
   * That some names stand for nothing.
   *
   * @param why what is missing for each, such as {@code there is no zone "Annex"}; at least one
   */
  static Message unknownNames(List<String> why) {
    List<String> some = why.subList(0, Math.min(MOST_UNKNOWN, why.size()));
    String joined = String.join("; ", some);
    int others = why.size() - some.size();
    return Message.text(
        Character.toUpperCase(joined.charAt(0))
            + joined.substring(1)
            + (others > 0 ? "; and " + others + " other names are unknown" : "")
            + ". "
            + (why.size() > 1 ? "Such names match" : "Such a name matches")
            + " nothing.");
  }

  /** That some rules match all connections of a rule first. */
  static Message shadowedBy(List<String> rules, boolean isFewest) {
    return Message.text("This rule never matches: ")
        .andRules(rules)
        .and(rules.size() > 1 ? " together match" : " matches")
        .and(" all of its connections first" + proven(isFewest) + ".");
  }

  /**
   * What is said of a rule that never matches, where only a part of what it matches gets another
   * verdict.
   */
  static Message partOtherwise(Message neverMatches, Share share, List<String> rules) {
    return neverMatches
        .and(" ")
        .andShare(share)
        .and(" of what this rule matches gets another verdict, from ")
        .andRules(rules)
        .and("; the rest gets the same verdict already.");
  }

  /** The same where the rules could not be named. */
  static Message shadowed() {
    return Message.text(
        "This rule never matches: the rules above it match all of its connections first.");
  }

  /** That a rule matches nothing, where it is not known which of the two that makes it. */
  static Message shadowedOrRedundant() {
    return shadowed()
        .and(
            " Undetermined: whether any of its connections gets another verdict from them took more"
                + " work than the review's budget.");
  }

  /** That rules above decide the same of all that a rule matches. */
  static Message redundantAbove(List<String> rules, boolean isFewest) {
    return Message.text("All connections of this rule already get the same verdict from ")
        .andRules(rules)
        .and(proven(isFewest) + ".");
  }

  /** That what comes below would decide the same. */
  static Message redundantBelow(List<String> rules, boolean andDefault) {
    Message start = Message.text("Removing this rule would change no verdict: below it, ");
    Message what =
        rules.isEmpty()
            ? start.and("the default verdict")
            : start.andRules(rules).and(andDefault ? " and the default verdict" : "");
    return what.and(" would decide the same.");
  }

  private static String proven(boolean isFewest) {
    return isFewest ? "" : " (not proven to be the fewest rules)";
  }

  /** That rules above give a part of what a rule matches another verdict. */
  static Message partlyShadowed(Share share, List<String> rules) {
    return Message.share(
            share, " of what this rule matches gets another verdict from rules above: ")
        .andRules(rules)
        .and(".");
  }

  /** That rules above are exceptions from a rule. */
  static Message exceptions(List<String> rules) {
    return Message.text("Above it, ")
        .andRules(rules)
        .and(rules.size() == 1 ? " is an exception" : " are exceptions")
        .and(" from this rule.");
  }

  /**
   * That something could not be found out within the budget.
   *
   * @param what such as {@code whether its order to all rules above it matters}
   */
  static Message undetermined(String what) {
    return undetermined(what, List.of(), "");
  }

  /** The same about some rules: what, the rules, and how the sentence goes on. */
  static Message undetermined(String what, List<String> rules, String more) {
    Message start = Message.text("Undetermined: " + what);
    return (rules.isEmpty() ? start : start.andRules(rules))
        .and(more + " took more work than the review's budget.");
  }

  /** That a rule and some above it cross and disagree. */
  static Message orderMatters(List<String> above) {
    return Message.text("This rule and ")
        .andRules(above)
        .and(
            " above overlap and give another verdict, and neither holds the other: their order"
                + " matters.");
  }

  /** That a rule never sees the features it tells apart. */
  static Message blind() {
    return Message.text(
        "This rule tells features apart whose content is encrypted, and no decryption rule decrypts"
            + " it there: it never sees what it is to match.");
  }

  /** That a rule does not see a part of the features it tells apart. */
  static Message partlyBlind(Share share) {
    return Message.share(
        share,
        " of what this rule matches stays encrypted: there it cannot tell features apart and passes"
            + " them by.");
  }

  /** That something passes before a blocking rule can decide. */
  static Message leaksFirst() {
    return Message.text(
        "Before this rule can stop them, connections are let through until enough of them is"
            + " known.");
  }

  /** That anything is let through to an outside zone. */
  static Message noLimits() {
    return Message.text(
        "This rule lets through to an outside zone whatever the application, and no usage sheet"
            + " under it stops any of that.");
  }

  /** That what crosses an outside zone is not logged. */
  static Message unlogged() {
    return Message.text(
        "This rule lets through to or from an outside zone, and leaves no trace of it.");
  }

  /**
   * That a rule leaves at least two of source, destination and use open.
   *
   * @param open what it leaves open, such as {@code any source}
   */
  static Message tooWide(List<String> open) {
    int last = open.size() - 1;
    return Message.text(
        "This rule lets through "
            + String.join(", ", open.subList(0, last))
            + " and "
            + open.get(last)
            + ".");
  }

  /** That the day of a rule's next look has passed; the owner may be empty. */
  static Message overdue(String owner, LocalDate day) {
    String who = owner.isEmpty() ? "" : " by " + owner;
    return Message.text("This rule was to be looked at again" + who + " by " + day + ".");
  }

  /** That a rule has no note. */
  static Message unnoted() {
    return Message.text("Nobody wrote down why this rule is there.");
  }

  /**
   * That applications need others that are not let through.
   *
   * @param lacking what is needed, each with the applications that need it
   */
  static Message missingDependency(Map<String, Set<String>> lacking) {
    List<String> said = new ArrayList<>();
    lacking.forEach(
        (needed, by) -> {
          List<String> some = by.stream().limit(MOST_APPLICATIONS).toList();
          int others = by.size() - some.size();
          String more = others > 0 ? " and " + others + " more" : "";
          said.add(
              String.join(", ", some) + more + (by.size() > 1 ? " need " : " needs ") + needed);
        });
    return Message.text(
        String.join("; ", said)
            + ", which is not let through for all the people and places this rule is for.");
  }

  /** That the gateway can be administered by known people only. */
  static Message administeredByIdentityOnly() {
    return Message.text(
        "Reaching the gateway for administration hangs on identities alone: when they are not"
            + " known, nobody gets in.");
  }

  /** That nobody can administer the gateway. */
  static Message administeredByNobody() {
    return Message.text("No rule lets anybody inside reach the gateway to administer it.");
  }

  /**
   * That nothing on the tapes was caught.
   *
   * @param days of recorded traffic
   * @param connections how many were recorded
   */
  static Message unused(long days, long connections, LocalDate from, LocalDate to) {
    return Message.text(
        String.format(
            Locale.ROOT,
            "Nothing was caught by this rule in %d %s of recorded traffic (%,d connections, %s to %s).",
            days,
            days == 1 ? "day" : "days",
            connections,
            from,
            to));
  }

  /** That with a rule lanes guarantee more than the link carries. */
  static Message overpromised(Lane.Rates sum, Lane.Rates capacity) {
    return Message.text(
        "With this rule, lanes guarantee "
            + upAndDown(sum, RateText::print)
            + "; "
            + linkCarries(capacity));
  }

  /** That one lane alone guarantees more than the link carries. */
  static String laneOverpromised(Lane lane, Lane.Rates sum, Lane.Rates capacity) {
    String each = lane.scope() == Lane.Scope.CLIENT ? " for " + lane.clients() + " clients" : "";
    return "Lane "
        + lane.name()
        + each
        + " guarantees "
        + upAndDown(sum, RateText::print)
        + " in all; "
        + linkCarries(capacity);
  }

  private static String linkCarries(Lane.Rates capacity) {
    return "the link carries " + upAndDown(capacity, Sentences::limit) + ".";
  }

  private static String upAndDown(Lane.Rates rates, LongFunction<String> print) {
    return print.apply(rates.up()) + " up and " + print.apply(rates.down()) + " down";
  }

  /** What the link carries one way; where nothing is said, nothing is held against it. */
  private static String limit(long kbits) {
    return kbits == 0 ? "no known limit" : RateText.print(kbits);
  }

  /** That a new rule would never match where it is to stand. */
  static Message betterAbove(String rule) {
    return Message.text("Better above ")
        .andRules(List.of(rule))
        .and(": below it, this rule would never match.");
  }

  /** That rules give a part of a new rule another verdict, which they would not below it. */
  static Message betterAbove(String rule, Share share, List<String> takers) {
    return Message.text("Better above ")
        .andRules(List.of(rule))
        .and(": ")
        .andShareWithin(share)
        .and(" of what this rule matches gets another verdict from ")
        .andRules(takers)
        .and(".");
  }

  /** That a new rule would take all that another is for. */
  static Message betterBelow(String rule) {
    return Message.text("Better below ")
        .andRules(List.of(rule))
        .and(": above it, this rule would take all that one is for.");
  }

  /** That a rule which matches nothing has no better place. */
  static Message placeOfEmpty() {
    return Message.text("This rule matches nothing, so it does nothing in any place.");
  }

  /** That a rule stands well, for no other takes from it. */
  static Message allReachesIt() {
    return Message.text("It stands well: no rule above matches any of its connections.");
  }

  /**
   * That a rule stands well, for what takes from it decides the same.
   *
   * @param takers nothing where not all of them are known
   */
  static Message restDecidedAlike(List<String> takers) {
    return takers.isEmpty()
        ? Message.text(
            "It stands well: what rules above share with it gets the same verdict there.")
        : Message.text("It stands well: ")
            .andRules(takers)
            .and(
                " above give"
                    + (takers.size() == 1 ? "s" : "")
                    + " what they share the same verdict.");
  }

  /** That no place changes a verdict above a rule, where it is not known whether it matches. */
  static Message decidedAlikeAbove() {
    return Message.text(
        "A higher place changes nothing: what rules above share with it gets the same verdict"
            + " there. Whether anything is left to it took more work than the review's budget.");
  }

  /** That the best place of a rule is not known. */
  static Message placeNotWorkedOut() {
    return Message.text(
        "No better place is known: whether rules above give part of it another verdict took more"
            + " work than the review's budget.");
  }

  /** That a rule stands well, for what takes from it are exceptions. */
  static Message belowItsExceptions(List<String> exceptions) {
    return Message.text("It stands well, below ")
        .andRules(exceptions)
        .and(exceptions.size() == 1 ? ", an exception from it." : ", exceptions from it.");
  }

  /**
   * That no place helps, for all of it gets the same verdict already.
   *
   * @param takers nothing where not all of them are known
   */
  static Message sameVerdictEverywhere(List<String> takers) {
    Message already =
        Message.text("No place helps: all of its connections already get the same verdict from ");
    return takers.isEmpty() ? already.and("rules above it.") : already.andRules(takers).and(".");
  }

  /** The beginning of a sentence: how much of a rule gets another verdict, and from whom. */
  private static Message otherwise(Share share, List<String> takers) {
    return new Message(List.of())
        .andShare(share)
        .and(" of what this rule matches gets another verdict from ")
        .andRules(takers);
  }

  /** That rules give a part another verdict, and exceptions from this rule stand between. */
  static Message exceptionsInTheWay(
      Share share, List<String> takers, String topmost, List<String> exceptions) {
    return otherwise(share, takers)
        .and(". Above ")
        .andRules(List.of(topmost))
        .and(" it would also take from ")
        .andRules(exceptions)
        .and(
            exceptions.size() == 1
                ? ", an exception from it: move that one up first."
                : ", exceptions from it: move those up first.");
  }

  /** That broader rules give the smaller part of a blocking rule another verdict. */
  static Message partlyTaken(Share share, List<String> takers, String topmost) {
    return otherwise(share, takers)
        .and(". Only above ")
        .andRules(List.of(topmost))
        .and(" would all of that get this rule's; move it there if that is what you want.");
  }

  /** That rules give a part another verdict, and only letting more through would change that. */
  static Message takenOtherwise(Share share, List<String> takers, String topmost) {
    return otherwise(share, takers)
        .and(". Only above ")
        .andRules(List.of(topmost))
        .and(" would all of it get this rule's; move it there if more is to be let through.");
  }
}
