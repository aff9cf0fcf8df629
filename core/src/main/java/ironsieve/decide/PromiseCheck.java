package ironsieve.decide;

import ironsieve.compile.ImpossibleConnectionException;
import ironsieve.model.Promise;
import ironsieve.model.Rule;
import ironsieve.model.Verdict;
import java.util.Optional;

/**
 * What became of one promise.
 *
 * @param promise the promise
 * @param verdict what happens to its connection now; nothing if there can be no such connection any
 *     more
 * @param catcher the id of the rule that catches it now; nothing for the default verdict
 * @param trouble why there can be no such connection; empty otherwise
 */
public record PromiseCheck(
    Promise promise, Optional<Verdict> verdict, Optional<String> catcher, String trouble) {

  /** Runs one promise. */
  public static PromiseCheck of(Promise promise, Decider decider) {
    try {
      Optional<String> catcher = decider.decide(promise.connection()).map(Rule::id);
      return new PromiseCheck(
          promise, Optional.of(decider.verdict(promise.connection())), catcher, "");
    } catch (ImpossibleConnectionException e) {
      return new PromiseCheck(promise, Optional.empty(), Optional.empty(), e.getMessage());
    }
  }

  /**
   * Whether the promise is kept: the verdict is the promised one, and the catch too where one was.
   */
  public boolean isKept() {
    return verdict.equals(Optional.of(promise.verdict()))
        && (promise.catcher().isEmpty() || promise.catcher().equals(catcher));
  }
}
