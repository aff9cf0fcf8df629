package ironsieve.benchmarks;

import ironsieve.compile.CompiledRulebase;
import ironsieve.impact.Comparison;
import ironsieve.impact.Impact;
import ironsieve.impact.SurroundingsChange;
import ironsieve.model.Application;
import ironsieve.model.Catalogue;
import ironsieve.model.Environment;
import ironsieve.model.Rulebase;
import ironsieve.review.Aftermath;
import ironsieve.review.Budget;
import ironsieve.review.Review;
import ironsieve.review.Reviewer;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.stream.IntStream;

/**
 * What another edition of the catalogue does to every rulebase of a large workspace – verdicts,
 * findings that end and begin – beside only compiling and reviewing each of them once.
 */
final class LargeWorkspace {

  private static final int PEOPLE = 50_000;
  private static final int APPLICATIONS = 5_000;
  private static final int RULES = 500;
  private static final int CHANGED = 50;
  private static final int BUDGET = 100_000;

  private final Environment before = Generated.environment(PEOPLE, APPLICATIONS);
  private final Environment after = before.with(nextEdition());
  private final List<Rulebase> rulebases;

  private LargeWorkspace(int count) {
    rulebases =
        IntStream.range(0, count)
            .mapToObj(seed -> Grown.rulebase(RULES, APPLICATIONS, seed))
            .toList();
  }

  /** Without some applications, which rules go on naming. */
  private Catalogue nextEdition() {
    Random random = new Random(3);
    List<Application> next = new ArrayList<>(before.catalogue().applications());
    for (int changed = 0; changed < CHANGED; ) {
      int one = random.nextInt(next.size());
      if (next.get(one).name().startsWith("App ")) {
        next.remove(one);
        changed++;
      }
    }
    return new Catalogue(before.catalogue().edition() + 1, next);
  }

  /** Prints what it takes for so many rulebases. */
  static void measure(int count) {
    LargeWorkspace workspace = new LargeWorkspace(count);
    // The first rounds only let the code run in.
    workspace.reviews(workspace.rulebases.subList(0, Math.min(20, count)));
    workspace.impacts(workspace.rulebases.subList(0, Math.min(20, count)));
    System.gc();
    long start = System.nanoTime();
    workspace.reviews(workspace.rulebases);
    double once = (System.nanoTime() - start) / 1e9;
    start = System.nanoTime();
    long noticing = workspace.impacts(workspace.rulebases);
    double impact = (System.nanoTime() - start) / 1e9;
    System.out.printf(
        Locale.ROOT,
        "%d rulebases of %d grown rules, %d people, %d applications of which %d are gone%n"
            + "compiled and reviewed once: %.1f s; impact of the edition: %.1f s, %.1f×; %d would"
            + " notice%n",
        count,
        RULES,
        PEOPLE,
        APPLICATIONS,
        CHANGED,
        once,
        impact,
        impact / once,
        noticing);
  }

  private void reviews(List<Rulebase> some) {
    some.parallelStream().forEach(rulebase -> review(rulebase, before));
  }

  private static Review review(Rulebase rulebase, Environment environment) {
    return Reviewer.review(CompiledRulebase.asFarAsKnown(rulebase, environment), Budget.USUAL);
  }

  private long impacts(List<Rulebase> some) {
    SurroundingsChange change = new SurroundingsChange(before, after);
    return some.parallelStream().filter(rulebase -> notices(rulebase, change)).count();
  }

  private boolean notices(Rulebase rulebase, SurroundingsChange change) {
    Impact impact = Comparison.ofSurroundings(rulebase, rulebase, change, BUDGET);
    Aftermath aftermath = Aftermath.of(review(rulebase, before), review(rulebase, after));
    return !impact.kinds().isEmpty()
        || !aftermath.begun().isEmpty()
        || !aftermath.ended().isEmpty();
  }
}
