package ironsieve.text;

import ironsieve.model.Environment;
import ironsieve.model.Parts;
import ironsieve.model.Rule;
import ironsieve.model.Verdict;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;

/**
 * A rule as one sentence in the words of the probe line: {@code deny from Crew wifi as group Deck
 * crew to Internet using Chatterbay at mon-fri 08:00-18:00}. It begins with the outcome; the parts
 * may come in any order, each may hold several values, with or without commas between them, and
 * {@code not} before the first turns them round. What is left out is any.
 */
public final class QuickRule {

  private final NameIndex names;

  /** Rules that may name what these rulebase parts and surroundings have. */
  public QuickRule(Parts parts, Environment environment) {
    names = new NameIndex(parts, environment);
  }

  /** Whether a text begins like a rule and not like a probe. */
  public static boolean isOne(String text) {
    String first = text.strip().split("\\s", 2)[0].toLowerCase(Locale.ROOT);
    return Stream.of(Verdict.values()).anyMatch(verdict -> verdict.word().equals(first));
  }

  /**
   * Reads a rule; it has no id, name or note yet, is on and logs.
   *
   * @throws TextException at the place that cannot be read, saying what could stand there
   */
  public Rule parse(String text) {
    return new QuickRuleReader(names, text).all();
  }

  /** Whether a text begins like the parts of a rule, and asks which rules have to do with them. */
  public static boolean isQuestion(String text) {
    String first = text.strip().split("\\s", 2)[0].toLowerCase(Locale.ROOT);
    return Stream.of(SentencePart.values()).anyMatch(part -> part.word().equals(first));
  }

  /**
   * Reads a question: the parts of a rule without its outcome, such as {@code from 10.20.0.0/16 to
   * Internet using tcp/443}. Every part may hold several values.
   *
   * @throws TextException at the place that cannot be read, saying what could stand there
   */
  public Rule.Match question(String text) {
    return new Rule.Match(new QuickRuleReader(names, text).parts(), Rule.Ports.ANY);
  }

  /**
   * What a single value can be about: a network where a connection comes from and where it goes, an
   * application in its use. Names that are known here go before values that are only spelled right.
   *
   * @return for each field it may stand in, a match on it; at least one
   * @throws TextException with what comes nearest, if it is nothing at all
   */
  public List<Rule.Match> about(String text) {
    return SingleValue.about(names, text);
  }
}
