package ironsieve.impact;

import ironsieve.compile.Space;
import ironsieve.model.Connection;
import ironsieve.model.Outcome;
import ironsieve.region.Box;
import java.util.List;
import java.util.Optional;

/**
 * What a change alters.
 *
 * @param kinds disjoint kinds of connections whose verdict differs, those to look at first first
 * @param extent whether these are all
 * @param space what the boxes of the kinds are over
 */
public record Impact(List<Kind> kinds, Extent extent, Space space) {

  /** How much of the impact is known. */
  public enum Extent {
    /** Everything that changes is listed; nothing else does. */
    COMPLETE,
    /** What is listed changes as said; more may, for working it all out exceeded the budget. */
    PARTIAL
  }

  public Impact {
    kinds = List.copyOf(kinds);
  }

  /**
   * One kind of connection.
   *
   * @param boxes which connections, disjoint, over the impact's space; one for each IP version, as
   *     a rule
   * @param words the same, part by part; parts that say "any" are left out
   * @param before what happens to them now
   * @param after what would happen to them
   * @param witness one of them
   * @param wording whether the words stand for exactly these connections
   */
  public record Kind(
      List<Box> boxes,
      List<Words> words,
      Decision before,
      Decision after,
      Connection witness,
      Wording wording) {

    public Kind {
      boxes = List.copyOf(boxes);
      words = List.copyOf(words);
    }

    /** This kind with another one of its connections to show for it. */
    Kind with(Connection other) {
      return new Kind(boxes, words, before, after, other, wording);
    }
  }

  /** How much the words of a kind say. */
  public enum Wording {
    /** They stand for the connections of the kind and for no others. */
    EXACT,
    /** Exact words would be too long to read; some part is told by an example. */
    EXAMPLE
  }

  /**
   * What happens to a kind of connection.
   *
   * @param deciders the ids of the rules that catch them, from the top; nothing stands for the last
   *     line, which comes last
   */
  public record Decision(Outcome outcome, List<Optional<String>> deciders) {

    public Decision {
      deciders = List.copyOf(deciders);
    }

    /** The rule that catches all of them; nothing for the default verdict or several rules. */
    public Optional<String> rule() {
      return deciders.size() == 1 ? deciders.get(0) : Optional.empty();
    }

    /**
     * What decides, in the form of all formats: an id each, an empty one for the default verdict.
     */
    public List<String> ids() {
      return deciders.stream().map(id -> id.orElse("")).toList();
    }
  }

  /**
   * One part of a description.
   *
   * @param part such as {@code from}
   * @param text such as {@code Offices but not 10.20.8.16/28}
   */
  public record Words(String part, String text) {}
}
