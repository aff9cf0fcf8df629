package ironsieve.recorded;

import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.compile.Space;
import ironsieve.model.Tape.Unsaid;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Which rules may catch a connection of which not everything is known: the box of all connections
 * it may have been is dropped through the rules, and each that takes some of it may be its catch.
 */
final class PartlyKnown {

  /** What is left in more pieces than this is not cut further: then a rule more may be named. */
  private static final int MOST_PIECES = 256;

  /** So many answers are remembered; each is found by a set of boxes, which takes room. */
  private static final int MOST_REMEMBERED = 20_000;

  private final CompiledRulebase compiled;
  private final Map<Asked, int[]> known = new ConcurrentHashMap<>();

  /**
   * What an answer depends on: all boxes that meet what is known hold it in every dimension that is
   * said, so only which they are matters, and what is not said.
   */
  private record Asked(IndexSet meeting, Set<Unsaid> unsaid) {}

  /**
   * Remembers what it worked out: many lines of a tape say the same of different people. Safe for
   * several threads.
   */
  PartlyKnown(CompiledRulebase compiled) {
    this.compiled = compiled;
  }

  /**
   * The numbers of the boxes that may catch a connection, topmost first; -1 for the default
   * verdict.
   *
   * @param point where it lies if what is not said is taken for what stands there
   */
  int[] catches(int[] point, Set<Unsaid> unsaid) {
    Box box = box(compiled.space(), point, unsaid);
    IndexSet meeting = compiled.index().meeting(box);
    Asked asked = new Asked(meeting, unsaid);
    int[] answer = known.get(asked);
    if (answer == null) {
      answer = catches(box, meeting);
      if (known.size() < MOST_REMEMBERED) {
        known.put(asked, answer);
      }
    }
    return answer;
  }

  /** All connections that one may have been. */
  private static Box box(Space space, int[] point, Set<Unsaid> unsaid) {
    Box box = Box.at(point);
    for (Unsaid one : unsaid) {
      int dimension = dimension(one).ordinal();
      box = box.with(dimension, space.whole(dimension));
    }
    return box;
  }

  static Dimension dimension(Unsaid unsaid) {
    return switch (unsaid) {
      case PERSON -> Dimension.PERSON;
      case DEVICE -> Dimension.DEVICE;
      case HOST -> Dimension.SITE;
      case APPLICATION -> Dimension.USING;
    };
  }

  private int[] catches(Box known, IndexSet meeting) {
    Set<Integer> possible = new LinkedHashSet<>();
    List<Box> left = List.of(known);
    for (int at = meeting.next(0); at >= 0 && !left.isEmpty(); at = meeting.next(at + 1)) {
      Box box = compiled.box(at);
      if (left.stream().noneMatch(box::intersects)) {
        continue;
      }
      possible.add(at);
      List<Box> next = new ArrayList<>();
      for (Box piece : left) {
        if (piece.intersects(box)) {
          next.addAll(piece.minus(box));
        } else {
          next.add(piece);
        }
      }
      boolean isWhole = left.stream().allMatch(box::containsAll);
      if (isWhole || next.size() <= MOST_PIECES) {
        left = next;
      }
    }
    if (!left.isEmpty()) {
      possible.add(-1);
    }
    return possible.stream().mapToInt(Integer::intValue).toArray();
  }
}
