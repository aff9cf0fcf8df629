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
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.Finding.Evidence;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * Whether a rule lets through more than it need: outside without limits or unlogged, or very wide.
 */
final class OpenOutside {

  private final Claims claims;
  private final Space space;
  private final IndexSet outside;

  OpenOutside(Claims claims) {
    this.claims = claims;
    this.space = claims.space();
    outside = space.placesOn(Zone.Side.OUTSIDE);
  }

  /** What there is to say of a rule that something reaches. */
  void check(RuleMeasure measure, List<Finding> found) {
    Optional<Finding> unlimited = unlimited(measure);
    Optional<Finding> unlogged = unlogged(measure);
    Optional<Finding> tooWide = tooWide(measure);
    unlimited.ifPresent(found::add);
    unlogged.ifPresent(found::add);
    tooWide.ifPresent(found::add);
    if (!measure.isUnsureWhatReaches()) {
      return;
    }
    if (unlimited.isEmpty() || unlogged.isEmpty()) {
      found.add(
          Unsure.about(
              claims.id(measure.rule()), "whether it lets something through to an outside zone"));
    } else if (tooWide.isEmpty() && isWide(rule(measure))) {
      found.add(
          Unsure.about(claims.id(measure.rule()), "whether its sheet lets something through"));
    }
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

  private Optional<Finding> unlimited(RuleMeasure measure) {
    Rule rule = rule(measure);
    if (Needs.namesApplications(rule) || sheetStopsOutside(measure.rule())) {
      return Optional.empty();
    }
    return letOutside(measure, Dimension.TO)
        .map(part -> finding(Kind.NO_LIMITS, Severity.NOTE, measure, Sentences.noLimits(), part));
  }

  private Rule rule(RuleMeasure measure) {
    return claims.rules().get(measure.rule()).rule();
  }

  private Finding finding(
      Kind kind, Severity severity, RuleMeasure measure, Message said, Candidate witnessed) {
    Evidence evidence = Evidence.of(claims.witness(witnessed.box()));
    return new Finding(
        kind, severity, claims.id(measure.rule()), said, List.of(evidence), List.of());
  }

  private Optional<UsageSheet> sheet(Rule rule) {
    return rule.then().sheet().flatMap(claims.compiled().names()::sheet);
  }

  /** Whether the rule's sheet stops, or asks before, some of what it matches towards outside. */
  private boolean sheetStopsOutside(int rule) {
    Box towardsOutside = space.everything().with(Dimension.TO.ordinal(), outside);
    return claims.parts(rule).stream()
        .anyMatch(
            part ->
                part.outcome().verdict() != Verdict.ALLOW && part.box().intersects(towardsOutside));
  }

  private Optional<Finding> unlogged(RuleMeasure measure) {
    if (rule(measure).then().logging() == Rule.Logging.LOGGED) {
      return Optional.empty();
    }
    return letOutside(measure, Dimension.TO, Dimension.FROM)
        .map(part -> finding(Kind.UNLOGGED, Severity.QUIET, measure, Sentences.unlogged(), part));
  }

  /** Asked of what really passes: where a sheet stops all that reaches the rule, it is not wide. */
  private Optional<Finding> tooWide(RuleMeasure measure) {
    Rule rule = rule(measure);
    if (!isWide(rule)) {
      return Optional.empty();
    }
    return measure
        .reachingIn(space.everything())
        .map(
            passing ->
                finding(
                    Kind.TOO_WIDE,
                    Severity.WARNING,
                    measure,
                    Sentences.tooWide(open(rule)),
                    passing));
  }

  private boolean isWide(Rule rule) {
    return open(rule).size() >= 2 && rule.then().verdict().passes();
  }

  /** Which of source, destination and use a rule says nothing of. */
  private List<String> open(Rule rule) {
    Rule.Match match = rule.match();
    List<String> open = new ArrayList<>();
    if (isOpen(
        match,
        FieldName.FROM_ZONES,
        FieldName.FROM_NETWORKS,
        FieldName.PEOPLE,
        FieldName.DEVICES)) {
      open.add("any source");
    }
    if (isOpen(match, FieldName.TO_ZONES, FieldName.TO_NETWORKS, FieldName.TO_SITES)) {
      open.add("any destination");
    }
    Optional<UsageSheet> sheet = sheet(rule);
    boolean ofSheet = sheet.map(laid -> laid.otherwise().verdict().passes()).orElse(true);
    if (ofSheet && isOpen(match, FieldName.SERVICES, FieldName.APPLICATIONS)) {
      open.add(
          sheet.isPresent() ? "any application that its sheet does not stop" : "any application");
    }
    return open;
  }

  private static boolean isOpen(Rule.Match match, FieldName... fields) {
    return Stream.of(fields).noneMatch(field -> match.field(field).isPresent());
  }
}
