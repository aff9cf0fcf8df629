package ironsieve.review;

import ironsieve.compile.Dimension;
import ironsieve.compile.Space;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.review.CoverSearch.Answer;
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.CoverSearch.Question;
import ironsieve.review.Finding.Evidence;
import ironsieve.review.Finding.Kind;
import ironsieve.review.Finding.Severity;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;

/** Whether a blocking rule lets something pass before it can decide. */
final class LeaksFirst {

  private static final int USING = Dimension.USING.ordinal();
  private static final int SITE = Dimension.SITE.ordinal();

  private final Claims claims;
  private final Space space;
  private final Budget budget;
  private final Map<Integer, List<Box>> sure = new ConcurrentHashMap<>();

  LeaksFirst(Claims claims, Budget budget) {
    this.claims = claims;
    this.space = claims.space();
    this.budget = budget;
  }

  /**
   * A blocking rule leaks where, at the first packet, a rule that decides otherwise is still
   * possible and no rule above that one is sure.
   *
   * @param parts what reaches the rule, or what it claims
   * @param isClaim whether it is what the rule claims, some of which rules above may take
   */
  Optional<Finding> check(int rule, List<Candidate> parts, boolean isClaim) {
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
          return Optional.of(
              new Finding(
                  Kind.LEAKS_FIRST,
                  Severity.QUIET,
                  claims.id(rule),
                  Sentences.leaksFirst(),
                  List.of(Evidence.of(claims.witness(found.piece()))),
                  List.of()));
        }
        unsure |= answer instanceof Answer.OutOfBudget;
      }
    }
    return unsure
        ? Optional.of(Unsure.about(claims.id(rule), "whether anything passes before it decides"))
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
}
