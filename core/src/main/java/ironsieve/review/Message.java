package ironsieve.review;

import java.util.ArrayList;
import java.util.List;
import java.util.function.ToIntFunction;
import java.util.stream.Collectors;

/**
 * A sentence that names rules by their ids and not by their numbers, so that it stays true when
 * rules move; the numbers are put in when it is shown.
 */
public record Message(List<Part> parts) {

  private static final int MOST_NAMED = 6;

  /** A piece of a sentence. */
  public sealed interface Part {

    /** The piece with these numbers for ids. */
    String with(ToIntFunction<String> numbers);

    /** Plain words. */
    record Text(String text) implements Part {

      @Override
      public String with(ToIntFunction<String> numbers) {
        return text;
      }
    }

    /** Some rules, such as {@code rules 3, 7 and 9}. */
    record Rules(List<String> ids) implements Part {

      public Rules {
        ids = List.copyOf(ids);
      }

      /** Those that are named by their numbers. */
      public List<String> named() {
        return ids.size() > MOST_NAMED ? ids.subList(0, MOST_NAMED - 1) : ids;
      }

      /** How many others there are. */
      public int others() {
        return ids.size() - named().size();
      }

      @Override
      public String with(ToIntFunction<String> numbers) {
        return rules(named().stream().mapToInt(numbers).boxed().toList(), others());
      }
    }
  }

  public Message {
    parts = List.copyOf(parts);
  }

  /** A sentence that begins with a share of something, such as {@code Under 0.1 % of it …}. */
  static Message share(Share share, String ofWhat) {
    return new Message(List.of()).andShare(share).and(ofWhat);
  }

  /** A sentence that begins with words. */
  static Message text(String text) {
    return new Message(List.of(new Part.Text(text)));
  }

  /** This and more words. */
  Message and(String text) {
    return and(new Part.Text(text));
  }

  /** This and the numbers of some rules. */
  Message andRules(List<String> ids) {
    return and(new Part.Rules(ids));
  }

  /** This and a share as a percentage, at the beginning of a sentence. */
  Message andShare(Share share) {
    String percent = Words.percent(share);
    return and(Character.toUpperCase(percent.charAt(0)) + percent.substring(1));
  }

  /** This and a share as a percentage, within a sentence. */
  Message andShareWithin(Share share) {
    return and(Words.percent(share));
  }

  private Message and(Part part) {
    List<Part> all = new ArrayList<>(parts);
    all.add(part);
    return new Message(all);
  }

  /** The sentence with these numbers for ids. */
  public String with(ToIntFunction<String> numbers) {
    return parts.stream().map(part -> part.with(numbers)).collect(Collectors.joining());
  }

  private static String rules(List<Integer> numbers, int others) {
    if (others > 0) {
      return "rules " + joined(numbers) + " and " + others + " others";
    }
    if (numbers.size() == 1) {
      return "rule " + numbers.get(0);
    }
    int last = numbers.size() - 1;
    return "rules " + joined(numbers.subList(0, last)) + " and " + numbers.get(last);
  }

  private static String joined(List<Integer> numbers) {
    return numbers.stream().map(String::valueOf).collect(Collectors.joining(", "));
  }
}
