package ironsieve;

import ironsieve.model.Chapter;
import ironsieve.model.NamedSet;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;

/** Random edits of rulebases. */
public final class Edits {

  private Edits() {}

  /**
   * A few random edits: rules moved, removed, added or changed, a set changed, the default verdict
   * turned.
   */
  public static Rulebase some(Rulebase before, Rulebase other, Random random) {
    List<Rule> rules = new ArrayList<>(before.rules());
    List<NamedSet> sets = new ArrayList<>(before.sets());
    Parts parts = before.parts();
    Verdict defaultVerdict = before.defaultVerdict();
    for (int edits = 1 + random.nextInt(2); edits > 0; edits--) {
      Rule fresh = other.rules().get(random.nextInt(other.rules().size()));
      int at = random.nextInt(rules.size());
      switch (random.nextInt(7)) {
        case 0 -> Collections.swap(rules, at, random.nextInt(rules.size()));
        case 1 -> {
          Rule moving = rules.remove(at);
          rules.add(random.nextInt(rules.size() + 1), moving);
        }
        case 2 -> rules.set(at, named(rules.get(at).id(), fresh));
        case 3 -> rules.add(at, named("new" + Math.abs(random.nextLong()), fresh));
        case 4 -> parts = other.parts();
        case 5 -> sets.set(0, set(sets.get(0).name(), "10.0.0.1"));
        default -> defaultVerdict = random.nextBoolean() ? Verdict.ALLOW : Verdict.REJECT;
      }
    }
    Parts changed =
        new Parts(
            sets,
            parts.sheets(),
            parts.notices(),
            parts.lanes(),
            parts.decryption(),
            parts.capacity());
    return new Rulebase(
        "after", List.of(new Chapter("c", "All", "", rules)), changed, defaultVerdict);
  }

  private static Rule named(String id, Rule rule) {
    return new Rule(id, "", rule.state(), rule.match(), rule.then(), "");
  }

  private static NamedSet set(String name, String value) {
    return new NamedSet(
        name, ValueKind.NETWORK, List.of(ValueText.parse(ValueKind.NETWORK, value)), "");
  }
}
