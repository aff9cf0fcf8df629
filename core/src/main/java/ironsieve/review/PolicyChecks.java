package ironsieve.review;

import ironsieve.compile.Dimension;
import ironsieve.compile.Space;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.UsageSheet;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.review.CoverSearch.Answer;
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.CoverSearch.Question;
import ironsieve.review.Finding.Evidence;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * What the review has to say beyond who takes from whom: what order, seals, needs and good practice
 * make of a rule. Asked of each rule on its own, once its residue is known.
 */
final class PolicyChecks {

  private static final int USING = Dimension.USING.ordinal();
  private static final int SITE = Dimension.SITE.ordinal();
  private static final int MOST_EVIDENCE = 24;
  // Some sites stay sealed nearly everywhere; a warning for each would hide those that matter.
  private static final double MUCH_UNSEEN = 0.25;

  private final Claims claims;
  private final Words words;
  private final Budget budget;
  private final Space space;
  private final IndexSet outside;
  private final Needs needs;
  private final Map<Integer, List<Box>> sure = new ConcurrentHashMap<>();

  PolicyChecks(Claims claims, Words words, Budget budget, Optional<Needs.Earlier> earlier) {
    this.claims = claims;
    this.words = words;
    this.budget = budget;
    this.space = claims.space();
    outside = space.placesOn(Zone.Side.OUTSIDE);
    needs = new Needs(claims, earlier);
  }

  /** What there is to say about one rule. */
  List<Finding> findings(RuleMeasure measure) {
    int rule = measure.rule();
    List<Finding> found = new ArrayList<>();
    List<Candidate> reaching = measure.reaching();
    orderMatters(rule, measure.meeting(), found);
    blind(rule).ifPresent(found::add);
    if (!reaching.isEmpty()) {
      Optional<Finding> leaking = leaks(rule, reaching, false);
      Optional<Finding> lacking = needs.finding(rule, reaching);
      if (!measure.isExact() && leaking.isEmpty()) {
        leaking = leaks(rule, claims.parts(rule), true);
      }
      leaking.ifPresent(found::add);
      lacking.ifPresent(found::add);
      if (!measure.isExact()
          && lacking.isEmpty()
          && needs.finding(rule, claims.parts(rule)).isPresent()) {
        // Some of the claim lacks something; whether that is some of what reaches the rule is open.
        found.add(undetermined(rule, "whether dependencies are met for all that it catches"));
      }
      unguarded(rule, measure).ifPresent(found::add);
      unlogged(rule, measure).ifPresent(found::add);
      tooWide(rule, reaching).ifPresent(found::add);
    }
    if (rule(rule).metadata().isOverdue(space.environment().today())) {
      LocalDate day = rule(rule).metadata().reviewBy().orElseThrow();
      String owner = rule(rule).metadata().owner();
      String who = owner.isEmpty() ? "" : " by " + owner;
      found.add(
          new Finding(
              Kind.OVERDUE,
              Severity.NOTE,
              claims.id(rule),
              Message.text("This rule was to be looked at again" + who + " by " + day + "."),
              List.of(),
              List.of()));
    }
    if (rule(rule).note().isBlank()) {
      String sentence = "Nobody wrote down why this rule is there.";
      found.add(
          new Finding(
              Kind.UNNOTED,
              Severity.QUIET,
              claims.id(rule),
              Message.text(sentence),
              List.of(),
              List.of()));
    }
    return found;
  }

  /** What hangs on all rules together, by the number of the rule it is said of. */
  Map<Integer, List<Finding>> overall(ReviewedRules rules) {
    Map<Integer, List<Finding>> found = new HashMap<>();
    new Overpromised(claims.compiled().rulebase())
        .sentences()
        .forEach(
            (id, sentence) -> {
              int rule = claims.compiled().rule(id).orElseThrow().index();
              rules
                  .get(rule)
                  .residue()
                  .witness()
                  .ifPresent(witness -> add(found, rule, overpromised(id, sentence, witness)));
            });
    LockOut lockOut = new LockOut(claims);
    lockOut.finding().ifPresent(finding -> add(found, lockOut.rule(), finding));
    return found;
  }

  private static void add(Map<Integer, List<Finding>> found, int rule, Finding finding) {
    found.computeIfAbsent(rule, number -> new ArrayList<>()).add(finding);
  }

  private static Finding overpromised(String rule, String sentence, Witness witness) {
    return new Finding(
        Kind.OVERPROMISED,
        Severity.WARNING,
        rule,
        Message.text(sentence),
        List.of(new Evidence("", "", witness)),
        List.of());
  }

  Needs needs() {
    return needs;
  }

  private Finding undetermined(int rule, String what) {
    return new Finding(
        Kind.UNDETERMINED,
        Severity.QUIET,
        claims.id(rule),
        RuleReview.undetermined(what),
        List.of(),
        List.of());
  }

  private Rule rule(int rule) {
    return claims.rules().get(rule).rule();
  }

  private Finding finding(
      Kind kind, Severity severity, int rule, String sentence, Candidate witnessed) {
    Evidence evidence = new Evidence("", "", claims.witness(witnessed.box()));
    return new Finding(
        kind, severity, claims.id(rule), Message.text(sentence), List.of(evidence), List.of());
  }

  private void orderMatters(int rule, List<Integer> above, List<Finding> found) {
    List<Integer> crossing = new ArrayList<>();
    List<Evidence> evidence = new ArrayList<>();
    int steps = budget.searchSteps();
    boolean unsure = false;
    for (int other : above) {
      if (!claims.isDisputed(rule, other)) {
        continue;
      }
      Optional<Boolean> holds = claims.holds(rule, other, steps);
      Optional<Boolean> isHeld =
          holds.orElse(false) ? Optional.of(false) : claims.holds(other, rule, steps);
      if (holds.orElse(false) || isHeld.orElse(false)) {
        continue;
      }
      if (holds.isEmpty() || isHeld.isEmpty()) {
        unsure = true;
        continue;
      }
      crossing.add(other);
      if (evidence.size() < MOST_EVIDENCE) {
        Witness witness = claims.witness(claims.disputed(rule, other).get(0));
        evidence.add(new Evidence(claims.id(other), words.part(rule, other), witness));
      }
    }
    if (unsure) {
      found.add(undetermined(rule, "whether its order to all rules above it matters"));
    }
    if (crossing.isEmpty()) {
      return;
    }
    Message said =
        Message.text("This rule and ")
            .andRules(crossing.stream().map(claims::id).toList())
            .and(
                " above overlap and give another verdict, and neither holds the other: their order"
                    + " matters.");
    found.add(
        new Finding(
            Kind.ORDER_MATTERS, Severity.QUIET, claims.id(rule), said, evidence, List.of()));
  }

  private Optional<Finding> blind(int rule) {
    List<Box> unseen = claims.unseen(rule);
    if (unseen.isEmpty()) {
      return Optional.empty();
    }
    double hidden = weight(unseen);
    double seen = weight(claims.of(rule));
    boolean all = claims.of(rule).isEmpty();
    double share = hidden / (hidden + seen);
    Message said =
        all
            ? Message.text(
                "This rule tells features apart that travel inside a seal, and nothing opens the"
                    + " seal there: it never sees what it is to match.")
            : Message.share(
                Share.exact(share),
                " of what this rule matches stays encrypted: there it cannot tell features apart and"
                    + " passes them by.");
    Severity severity =
        all ? Severity.ERROR : share >= MUCH_UNSEEN ? Severity.WARNING : Severity.NOTE;
    Evidence evidence = new Evidence("", "", claims.witness(unseen.get(0)));
    return Optional.of(
        new Finding(
            Kind.BLIND_FEATURE,
            severity,
            claims.id(rule),
            said,
            List.of(evidence),
            List.of(FieldName.APPLICATIONS)));
  }

  private double weight(List<Box> boxes) {
    return boxes.stream().mapToDouble(box -> box.weight(space.weights())).sum();
  }

  /**
   * A blocking rule leaks where, at the first packet, a rule that decides otherwise is still
   * possible and no rule above that one is sure.
   *
   * @param parts what reaches the rule, or what it claims
   * @param isClaim whether it is what the rule claims, some of which rules above may take
   */
  private Optional<Finding> leaks(int rule, List<Candidate> parts, boolean isClaim) {
    boolean unsure = false;
    for (Candidate part : parts) {
      if (part.outcome().verdict().passes()) {
        continue;
      }
      List<Candidate> taken = isClaim ? claims.above(part.box(), rule) : List.of();
      for (Question question : leaking(part, taken)) {
        Answer answer = claims.search(List.of(question), budget.searchSteps());
        if (answer instanceof Answer.Uncovered found) {
          // How far one gets is told by the witness; others may get further, or less far.
          String sentence =
              "Before this rule can stop them, connections are let through until enough of them is"
                  + " known.";
          return Optional.of(
              finding(
                  Kind.LEAKS_FIRST,
                  Severity.QUIET,
                  rule,
                  sentence,
                  new Candidate(rule, found.piece(), part.outcome())));
        }
        unsure |= answer instanceof Answer.OutOfBudget;
      }
    }
    return unsure
        ? Optional.of(undetermined(rule, "whether anything passes before it decides"))
        : Optional.empty();
  }

  /**
   * For each box (and the default verdict) that decides otherwise, where it is possible, and what
   * of that is sure, or taken.
   */
  private Iterable<Question> leaking(Candidate part, List<Candidate> taken) {
    Box anything = part.box().with(SITE, space.whole(SITE)).with(USING, space.whole(USING));
    IndexSet meeting = claims.compiled().index().meeting(anything);
    return () ->
        IntStream.concat(IntStream.of(meeting.members()), IntStream.of(-1))
            .filter(box -> decidesOtherwise(box, part))
            .mapToObj(
                box -> leakingTo(box, box < 0 ? anything : claims.compiled().box(box), part, taken))
            .iterator();
  }

  private boolean decidesOtherwise(int box, Candidate part) {
    return claims.compiled().outcomeOfBox(box).verdict() != part.outcome().verdict();
  }

  private Question leakingTo(int box, Box claim, Candidate part, List<Candidate> taken) {
    int other = box < 0 ? claims.rules().size() : claims.compiled().ruleOfBox(box);
    Box possible =
        claim.with(SITE, space.whole(SITE)).with(USING, space.whole(USING)).intersect(part.box());
    List<Candidate> no = new ArrayList<>();
    for (int above : claims.compiled().rulesMeeting(possible, other)) {
      for (Box certain : sure(above)) {
        if (certain.intersects(possible)) {
          no.add(new Candidate(above, certain, part.outcome()));
        }
      }
    }
    taken.stream().filter(one -> one.box().intersects(possible)).forEach(no::add);
    return new Question(List.of(possible), no);
  }

  private List<Box> sure(int rule) {
    return sure.computeIfAbsent(rule, r -> FirstPacket.sure(claims.of(r), space));
  }

  /** A part of what reaches a rule that is let through to (or from) an outside zone. */
  private Optional<Candidate> letOutside(RuleMeasure measure, Dimension... ends) {
    for (Dimension end : ends) {
      Optional<Candidate> part =
          measure.reachingIn(space.everything().with(end.ordinal(), outside));
      if (part.isPresent()) {
        return part;
      }
    }
    return Optional.empty();
  }

  private Optional<Finding> unguarded(int rule, RuleMeasure measure) {
    if (Needs.namesApplications(rule(rule))
        || sheet(rule).map(PolicyChecks::guards).orElse(false)) {
      return Optional.empty();
    }
    return letOutside(measure, Dimension.TO)
        .map(
            part ->
                finding(
                    Kind.UNGUARDED,
                    Severity.NOTE,
                    rule,
                    "This rule lets through to an outside zone whatever the application, and no"
                        + " usage sheet under it stops anything.",
                    part));
  }

  private Optional<UsageSheet> sheet(int rule) {
    return rule(rule).then().sheet().flatMap(claims.compiled().names()::sheet);
  }

  /** Whether a sheet stops anything, or asks before it goes on. */
  private static boolean guards(UsageSheet sheet) {
    return Stream.concat(
            Stream.of(sheet.otherwise()), sheet.lines().stream().map(UsageSheet.Line::outcome))
        .anyMatch(outcome -> outcome.verdict() != Verdict.ALLOW);
  }

  private Optional<Finding> unlogged(int rule, RuleMeasure measure) {
    if (rule(rule).then().logging() == Rule.Logging.LOGGED) {
      return Optional.empty();
    }
    return letOutside(measure, Dimension.TO, Dimension.FROM)
        .map(
            part ->
                finding(
                    Kind.UNLOGGED,
                    Severity.QUIET,
                    rule,
                    "This rule lets through to or from an outside zone, and leaves no trace of it.",
                    part));
  }

  private Optional<Finding> tooWide(int rule, List<Candidate> reaching) {
    if (!rule(rule).then().verdict().passes()) {
      return Optional.empty();
    }
    Rule.Match match = rule(rule).match();
    List<String> open = new ArrayList<>();
    if (isOpen(match, FieldName.FROM_ZONES, FieldName.FROM_NETWORKS, FieldName.PEOPLE)) {
      open.add("source");
    }
    if (isOpen(match, FieldName.TO_ZONES, FieldName.TO_NETWORKS, FieldName.TO_SITES)) {
      open.add("destination");
    }
    boolean ofSheet = sheet(rule).map(laid -> laid.otherwise().verdict().passes()).orElse(true);
    if (ofSheet && isOpen(match, FieldName.SERVICES, FieldName.APPLICATIONS)) {
      open.add("use");
    }
    if (open.size() < 2) {
      return Optional.empty();
    }
    List<Candidate> passing =
        claims.parts(rule).stream().filter(part -> part.outcome().verdict().passes()).toList();
    double share = weight(passing.stream().map(Candidate::box).toList()) / weight(space.ahead());
    return Optional.of(
        finding(
            Kind.TOO_WIDE,
            Severity.WARNING,
            rule,
            "This rule leaves "
                + String.join(", ", open.subList(0, open.size() - 1))
                + " and "
                + open.get(open.size() - 1)
                + " open: it lets through "
                + Words.percent(Share.exact(share))
                + " of all there can be.",
            reaching.stream()
                .filter(part -> part.outcome().verdict().passes())
                .findFirst()
                .orElse(reaching.get(0))));
  }

  private static boolean isOpen(Rule.Match match, FieldName... fields) {
    for (FieldName field : fields) {
      if (match.field(field).isPresent()) {
        return false;
      }
    }
    return true;
  }
}
