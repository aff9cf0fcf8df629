package ironsieve.traffic.view;

import ironsieve.model.Tape;
import ironsieve.model.Verdict;
import java.util.List;
import java.util.Optional;

/**
 * A recorded connection with what a rulebase would do with it.
 *
 * @param tape the name of the tape it is on
 * @param rules the ids of the rules that may catch it, one where that is certain; nothing stands
 *     for the default verdict; none where there can be no such connection any more
 * @param verdict nothing where several are possible
 */
public record Decided(
    String tape, Tape.Line line, List<Optional<String>> rules, Optional<Verdict> verdict) {

  public Decided {
    rules = List.copyOf(rules);
  }
}
