package ironsieve.decide;

import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.compile.Space;
import ironsieve.model.Tape.Unsaid;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/**
 * Which rules may catch a connection of which not everything is known: the box of all connections
 * it may have been is dropped through the rules, and each that takes some of it may be its catch.
 */
final class PartlyKnown {

  /** What is left in more pieces than this is not cut further: then a rule more may be named. */
  private static final int MOST_PIECES = 256;

  private PartlyKnown() {}

  /** All connections that one may have been. */
  static Box box(Space space, int[] point, Set<Unsaid> unsaid) {
    Box box = Box.at(point);
    for (Unsaid one : unsaid) {
      int dimension = dimension(one).ordinal();
      box = box.with(dimension, space.whole(dimension));
    }
    return box;
  }

  private static Dimension dimension(Unsaid unsaid) {
    return switch (unsaid) {
      case PERSON -> Dimension.PERSON;
      case DEVICE -> Dimension.DEVICE;
      case HOST -> Dimension.SITE;
      case APPLICATION -> Dimension.USING;
    };
  }

  /** The numbers of the rules that boxes belong to, topmost first; -1 for the default verdict. */
  static int[] rules(CompiledRulebase compiled, int[] boxes) {
    return Arrays.stream(boxes)
        .map(box -> box < 0 ? -1 : compiled.ruleOfBox(box))
        .distinct()
        .toArray();
  }

  /** The numbers of the boxes that may catch it, topmost first; -1 for the default verdict. */
  static int[] catches(CompiledRulebase compiled, Box known) {
    Set<Integer> possible = new LinkedHashSet<>();
    List<Box> left = List.of(known);
    IndexSet meeting = compiled.index().meeting(known);
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
