package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Outcome;
import ironsieve.model.Verdict;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.region.Weights;
import ironsieve.review.CoverSearch.Candidate;
import ironsieve.review.KnownBranches.Known;
import ironsieve.review.KnownBranches.Question;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

/** A descent that remembers another one comes to the same as one that does not, to the last bit. */
class KnownBranchesTest {

  private static final int SIDE = 6;
  private static final Weights[] WEIGHTS = new Weights[4];
  private static final Outcome ALLOW = Outcome.of(Verdict.ALLOW);
  private static final Outcome DENY = Outcome.of(Verdict.DENY);

  static {
    // No sum of these is exact, so that their order shows.
    Arrays.fill(WEIGHTS, new Weights(0.1, 0.7, 1 / 3d, 1e-9, 12.3, 0.2));
  }

  private static final Box WHOLE =
      Box.of(IndexSet.upTo(SIDE), IndexSet.upTo(SIDE), IndexSet.upTo(SIDE), IndexSet.upTo(SIDE));

  /** A rule by its parts, each with what happens to it. */
  private record Rule(List<Box> boxes, List<Outcome> outcomes) {}

  private static Rule rule(Random random) {
    List<Box> boxes = new ArrayList<>();
    List<Outcome> outcomes = new ArrayList<>();
    for (int i = random.nextInt(3); i >= 0; i--) {
      boxes.add(
          Box.of(
              random
                  .ints(4, 0, 2)
                  .mapToObj(
                      narrow ->
                          narrow == 0
                              ? IndexSet.of(random.ints(2, 0, SIDE).toArray())
                              : IndexSet.upTo(1 + random.nextInt(SIDE)))
                  .toArray(IndexSet[]::new)));
      outcomes.add(random.nextBoolean() ? ALLOW : DENY);
    }
    return new Rule(boxes, outcomes);
  }

  private static List<Candidate> candidates(List<Rule> rules) {
    List<Candidate> all = new ArrayList<>();
    for (int owner = 0; owner < rules.size(); owner++) {
      for (int i = 0; i < rules.get(owner).boxes().size(); i++) {
        all.add(
            new Candidate(
                owner, rules.get(owner).boxes().get(i), rules.get(owner).outcomes().get(i)));
      }
    }
    return all;
  }

  /** The last rule, dropped through all others. */
  private static ShareMeasure dropped(List<Rule> rules, int steps, KnownBranches earlier) {
    ShareMeasure descent = new ShareMeasure(WEIGHTS, new Budget(steps, 0, 0, 1, 1), earlier);
    Candidate part = new Candidate(rules.size(), WHOLE, DENY);
    return descent.admit(part, 0.37, candidates(rules)) ? descent : null;
  }

  private static List<Rule> edited(List<Rule> rules, Random random) {
    List<Rule> next = new ArrayList<>(rules);
    int place = random.nextInt(next.size());
    switch (random.nextInt(4)) {
      case 0 -> next.add(place, rule(random));
      case 1 -> next.remove(place);
      case 2 -> next.add(random.nextInt(next.size()), next.remove(place));
      default -> {
        Rule old = next.get(place);
        next.set(place, new Rule(old.boxes(), old.boxes().stream().map(box -> ALLOW).toList()));
      }
    }
    return next;
  }

  @Property(tries = 400)
  void whatIsRememberedOverEditsIsWhatWouldBeWorkedOut(@ForAll long seed) {
    Random random = new Random(seed);
    List<Rule> rules = new ArrayList<>();
    for (int i = 0; i < 14; i++) {
      rules.add(rule(random));
    }
    KnownBranches known = dropped(rules, 1_000_000, KnownBranches.NONE).branches();
    for (int edit = 0; edit < 4; edit++) {
      rules = edited(rules, random);
      ShareMeasure afresh = dropped(rules, 1_000_000, KnownBranches.NONE);
      ShareMeasure again = dropped(rules, 1_000_000, known);
      assertThat(said(again.caught())).isEqualTo(said(afresh.caught()));
      int steps = afresh.caught().steps();
      assertThat(dropped(rules, steps, known)).isNotNull();
      assertThat(dropped(rules, steps - 1, known)).isNull();
      // Now and then what is known is of an edit long past.
      known = random.nextBoolean() ? again.branches() : known;
    }
  }

  private static List<Object> said(Caught caught) {
    List<Object> all = new ArrayList<>();
    caught
        .parts()
        .forEach(
            (owner, part) ->
                all.add(
                    List.of(
                        owner,
                        part.first(),
                        part.otherwise(),
                        part.weight(),
                        part.weightOtherwise())));
    all.add(caught.left());
    all.add(caught.leftWeight());
    all.add(caught.steps());
    return all;
  }

  @Test
  void aBranchIsKnownByItsPiecesAndByWhatItMeets() {
    Box low = WHOLE.with(0, IndexSet.of(0, 1));
    Box high = WHOLE.with(1, IndexSet.of(4));
    List<Candidate> met = List.of(new Candidate(3, low, ALLOW), new Candidate(5, high, DENY));
    Question asked = new Question(List.of(WHOLE), met, new Candidate(9, WHOLE, DENY), 2);
    Caught caught = new Caught();
    caught.note(3, low, 7, true);
    caught.note(5, high, 8, false);
    caught.noteLeft(new Candidate(9, WHOLE.with(1, IndexSet.of(5)), DENY), 1);
    KnownBranches known = new KnownBranches(List.of(new Known(asked, caught)));

    assertThat(known.opened().caught(asked)).containsSame(caught);
    List<Candidate> later = List.of(new Candidate(4, low, ALLOW), new Candidate(6, high, DENY));
    Question moved = new Question(List.of(WHOLE), later, new Candidate(11, WHOLE, DENY), 2);
    Caught there = known.opened().caught(moved).orElseThrow();
    assertThat(there.parts()).containsOnlyKeys(4, 6);
    assertThat(there.parts().get(4).weightOtherwise()).isEqualTo(7);
    assertThat(there.left()).extracting(Candidate::owner).containsExactly(11);

    Candidate same = asked.dropped();
    List<Candidate> turned = List.of(met.get(0), new Candidate(5, high, ALLOW));
    List<Candidate> narrowed = List.of(met.get(0), new Candidate(5, low, DENY));
    List<Candidate> ofOneRule = List.of(met.get(0), new Candidate(3, high, DENY));
    List<Question> others =
        List.of(
            new Question(List.of(WHOLE), met, same, 3),
            new Question(List.of(WHOLE), met, new Candidate(9, WHOLE, ALLOW), 2),
            new Question(List.of(low), met, same, 2),
            new Question(List.of(WHOLE), met.subList(0, 1), same, 2),
            new Question(List.of(WHOLE), turned, same, 2),
            new Question(List.of(WHOLE), narrowed, same, 2),
            new Question(List.of(WHOLE), ofOneRule, same, 2));
    assertThat(others).allMatch(other -> known.opened().caught(other).isEmpty());
  }
}
