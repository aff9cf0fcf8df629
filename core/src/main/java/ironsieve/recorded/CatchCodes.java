package ironsieve.recorded;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * A number for each thing that can happen to a recorded connection. Boxes are numbered anew with
 * every edit; these numbers stay, so that what an edit does not concern need not be touched. Shared
 * by the decisions of all revisions that follow each other; safe for several threads.
 */
final class CatchCodes {

  /** Of what there can be no such connection. */
  static final int IMPOSSIBLE = 0;

  /** Of what no rule catches. */
  static final int DEFAULT_VERDICT = 1;

  private final Map<List<Catch>, Integer> codes = new HashMap<>();
  private final List<List<Catch>> catches = new ArrayList<>();

  /**
   * A box that catches something.
   *
   * @param rule the id of its rule; empty for the default verdict
   * @param box which of the rule's boxes
   */
  record Catch(String rule, int box) {

    static final Catch DEFAULT_VERDICT = new Catch("", 0);
  }

  CatchCodes() {
    code(List.of());
    code(List.of(Catch.DEFAULT_VERDICT));
  }

  /** The number of what may be any of these, topmost first. */
  synchronized int code(List<Catch> possible) {
    Integer known = codes.get(possible);
    if (known == null) {
      known = catches.size();
      codes.put(possible, known);
      catches.add(possible);
    }
    return known;
  }

  /** What a number stands for. */
  synchronized List<Catch> catches(int code) {
    return catches.get(code);
  }

  /** How many there are. */
  synchronized int count() {
    return catches.size();
  }
}
