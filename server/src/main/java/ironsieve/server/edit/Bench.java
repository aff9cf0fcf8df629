package ironsieve.server.edit;

import ironsieve.compile.CompiledRulebase;
import ironsieve.decide.Decider;
import ironsieve.decide.PromiseCheck;
import ironsieve.files.Contents;
import ironsieve.files.Nouns;
import ironsieve.model.Surroundings;
import ironsieve.review.Budget;
import ironsieve.review.Review;
import ironsieve.review.Reviewer;
import ironsieve.text.ProbeText;
import java.util.List;
import org.eclipse.microprofile.config.ConfigProvider;

/**
 * One revision of a rulebase with everything worked out from it. Compiling and reviewing happen
 * once, when first asked for; a bench can always be made again from the database.
 */
public final class Bench {

  /** What the review may spend on each rule; the setting is iron-sieve.review.steps. */
  public static final Budget BUDGET =
      ConfigProvider.getConfig()
          .getOptionalValue("iron-sieve.review.steps", Integer.class)
          .map(steps -> new Budget(Budget.USUAL.descentSteps(), steps, Budget.USUAL.samples()))
          .orElse(Budget.USUAL);

  private final long revision;
  private final Contents contents;
  private final Surroundings surroundings;
  private CompiledRulebase compiled;
  private Review review;
  private List<PromiseCheck> promises;

  Bench(long revision, Contents contents, Surroundings surroundings) {
    this.revision = revision;
    this.contents = contents;
    this.surroundings = surroundings;
  }

  public long revision() {
    return revision;
  }

  public Contents contents() {
    return contents;
  }

  public Surroundings surroundings() {
    return surroundings;
  }

  /** The compiled rulebase. */
  public synchronized CompiledRulebase compiled() {
    if (compiled == null) {
      compiled = CompiledRulebase.of(contents.rulebase(), surroundings);
    }
    return compiled;
  }

  /**
   * What became of every promise, by group and name.
   *
   * @throws ironsieve.files.FaultException naming the promise, if one cannot be read
   */
  public synchronized List<PromiseCheck> promises() {
    if (promises == null) {
      ProbeText probes = new ProbeText(surroundings);
      Decider decider = new Decider(compiled());
      promises =
          contents.promisesInOrder().stream()
              .map(doc -> PromiseCheck.of(Nouns.promise(doc, probes), decider))
              .toList();
    }
    return promises;
  }

  /** The review. */
  public synchronized Review review() {
    if (review == null) {
      review = Reviewer.review(compiled(), BUDGET);
    }
    return review;
  }
}
