package ironsieve.text;

import ironsieve.model.Application.Exposure;
import ironsieve.model.Application.WorkValue;
import ironsieve.model.Value.Condition;
import ironsieve.model.Value.Condition.Comparison;
import ironsieve.model.Value.Condition.Trait;
import ironsieve.model.Value.Filter;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/**
 * Filters over the catalogue as text: {@code where exposure >= serious and category = file
 * sharing}. The signs are {@code >=}, {@code <=}, {@code =} and {@code !=}; only exposure and work
 * value have a more and a less. A category or family without some of its applications is said in
 * fewer words: {@code category social but not Bluefin Social nor Chatterbay}.
 */
final class FilterText {

  static final String START = "where ";

  /** What stands before the first application that is left out of a category or family. */
  static final String BUT_NOT = " but not ";

  /** What stands before every further one. */
  static final String NOR = " nor ";

  private FilterText() {}

  /** Whether a value is a category or a family of applications. */
  static boolean isWhole(String value) {
    return value.startsWith("category ") || value.startsWith("family ");
  }

  /** A category or a family without some of its applications. */
  static Filter except(String text, Trait trait, String whole) {
    int at = whole.indexOf(BUT_NOT);
    List<Condition> conditions = new ArrayList<>();
    conditions.add(new Condition(trait, Comparison.IS, whole.substring(0, at).trim()));
    for (String name : whole.substring(at + BUT_NOT.length()).split(NOR)) {
      if (name.isBlank()) {
        throw new TextException(0, "\"" + text + "\": say which application is left out");
      }
      if (name.contains("/")) {
        throw new TextException(
            0,
            "\""
                + text
                + "\": whole applications are left out; for a feature put a rule above this one");
      }
      conditions.add(new Condition(Trait.NAME, Comparison.IS_NOT, name.trim()));
    }
    return new Filter(conditions);
  }

  /** Whether a filter is a category or a family without some of its applications. */
  private static boolean isExcept(Filter filter) {
    List<Condition> conditions = filter.conditions();
    Condition first = conditions.get(0);
    return conditions.size() > 1
        && (first.trait() == Trait.CATEGORY || first.trait() == Trait.FAMILY)
        && first.comparison() == Comparison.IS
        && conditions.stream()
            .skip(1)
            .allMatch(one -> one.trait() == Trait.NAME && one.comparison() == Comparison.IS_NOT);
  }

  static Filter parse(String text) {
    List<Condition> conditions = new ArrayList<>();
    for (String part : text.substring(START.length()).split(" and ")) {
      conditions.add(condition(text, part.trim()));
    }
    return new Filter(conditions);
  }

  private static Condition condition(String text, String part) {
    for (Comparison comparison : Comparison.values()) {
      int at = part.indexOf(comparison.sign());
      if (at > 0) {
        Trait trait = trait(text, part.substring(0, at).trim());
        String wanted = part.substring(at + comparison.sign().length()).trim();
        check(text, trait, comparison, wanted);
        return new Condition(trait, comparison, wanted);
      }
    }
    throw new TextException(
        0, "\"" + text + "\": \"" + part + "\" compares nothing; use >=, <=, = or !=");
  }

  private static Trait trait(String text, String word) {
    return Arrays.stream(Trait.values())
        .filter(trait -> trait.word().equals(word))
        .findFirst()
        .orElseThrow(
            () ->
                new TextException(
                    0,
                    "\""
                        + text
                        + "\": \""
                        + word
                        + "\" is none of "
                        + Arrays.stream(Trait.values())
                            .map(Trait::word)
                            .collect(Collectors.joining(", "))));
  }

  private static void check(String text, Trait trait, Comparison comparison, String wanted) {
    if (wanted.isEmpty()) {
      throw new TextException(0, "\"" + text + "\": say what " + trait.word() + " should be");
    }
    if (trait.isGraded()) {
      Enum<?>[] grades = trait == Trait.EXPOSURE ? Exposure.values() : WorkValue.values();
      List<String> words =
          Arrays.stream(grades).map(grade -> grade.name().toLowerCase(Locale.ROOT)).toList();
      if (!words.contains(wanted)) {
        throw new TextException(
            0, "\"" + text + "\": " + trait.word() + " is one of " + String.join(", ", words));
      }
    } else if (comparison == Comparison.AT_LEAST || comparison == Comparison.AT_MOST) {
      throw new TextException(
          0, "\"" + text + "\": " + trait.word() + " has no more and no less; use = or !=");
    }
  }

  static String print(Filter filter) {
    if (isExcept(filter)) {
      Condition of = filter.conditions().get(0);
      return of.trait().word()
          + " "
          + of.wanted()
          + BUT_NOT
          + filter.conditions().stream()
              .skip(1)
              .map(Condition::wanted)
              .collect(Collectors.joining(NOR));
    }
    return START
        + filter.conditions().stream()
            .map(c -> c.trait().word() + " " + c.comparison().sign() + " " + c.wanted())
            .collect(Collectors.joining(" and "));
  }
}
