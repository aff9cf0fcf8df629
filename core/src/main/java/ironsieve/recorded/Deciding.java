package ironsieve.recorded;

import ironsieve.compile.BoxIndex;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Dimension;
import ironsieve.compile.Space;
import ironsieve.model.Tape.Unsaid;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.atomic.AtomicIntegerArray;

/**
 * Finds the codes of many lines at once. Lines of one conversation at times that no rule tells
 * apart are one question; of what is not known of a connection, most rules ask nothing either.
 */
final class Deciding {

  private static final int[] IGNORED = new int[1 << Unsaid.values().length];

  static {
    for (int bits = 0; bits < IGNORED.length; bits++) {
      for (Unsaid one : Unsaid.values()) {
        if ((bits >> one.ordinal() & 1) != 0) {
          IGNORED[bits] |= 1 << PartlyKnown.dimension(one).ordinal();
        }
      }
    }
  }

  private final CompiledRulebase compiled;
  private final CatchCodes codes;
  private final PartlyKnown partly;
  // Of each box its code and in which dimensions it holds everything; 0 until somebody asks.
  private final AtomicIntegerArray codeOfBox;
  private final AtomicIntegerArray wholeOfBox;

  Deciding(CompiledRulebase compiled, CatchCodes codes) {
    this.compiled = compiled;
    this.codes = codes;
    partly = new PartlyKnown(compiled);
    codeOfBox = new AtomicIntegerArray(compiled.boxNumbers());
    wholeOfBox = new AtomicIntegerArray(compiled.boxNumbers());
  }

  /** The dimensions, a bit for each, that what is not said leaves open. */
  static int ignored(int unsaid) {
    return IGNORED[unsaid];
  }

  /** Room for what one thread decides. */
  static final class Room {
    private final int[] runOf;
    private final int[] conversations;
    private final int[] times;
    private final int[] found;
    private final int[] points = new int[BoxIndex.MOST_AT_ONCE * Space.DIMENSIONS];
    private final int[] pointOf = new int[BoxIndex.MOST_AT_ONCE];
    private final int[] boxes = new int[BoxIndex.MOST_AT_ONCE];

    /** For so many lines at once. */
    Room(int lines) {
      runOf = new int[lines];
      conversations = new int[lines];
      times = new int[lines];
      found = new int[lines];
    }
  }

  /**
   * Decides lines.
   *
   * @param conversations the conversation of each; those that follow each other are decided once
   * @param minutes when each was seen
   * @param into gets the code of each
   */
  void decide(
      Located located,
      Conversations of,
      int[] conversations,
      int[] minutes,
      int count,
      int[] into,
      Room room) {
    int runs = 0;
    int patterns = 0;
    for (int i = 0; i < count; i++) {
      int time = located.timeAtom(compiled.space(), minutes[i]);
      boolean goesOn =
          runs > 0
              && room.conversations[runs - 1] == conversations[i]
              && room.times[runs - 1] == time;
      if (!goesOn) {
        room.conversations[runs] = conversations[i];
        room.times[runs] = time;
        patterns |= 1 << of.unsaidBits(conversations[i]);
        runs++;
      }
      room.runOf[i] = runs - 1;
    }
    for (int unsaid = 0; unsaid < IGNORED.length; unsaid++) {
      if ((patterns >> unsaid & 1) != 0) {
        decideRuns(located, of, runs, unsaid, room);
      }
    }
    for (int i = 0; i < count; i++) {
      into[i] = room.found[room.runOf[i]];
    }
  }

  private void decideRuns(Located located, Conversations of, int runs, int unsaid, Room room) {
    int batch = 0;
    for (int run = 0; run < runs; run++) {
      int conversation = room.conversations[run];
      if (of.unsaidBits(conversation) != unsaid) {
        continue;
      }
      if (!located.isPossible(conversation)) {
        room.found[run] = CatchCodes.IMPOSSIBLE;
        continue;
      }
      int at = batch * Space.DIMENSIONS;
      located.write(conversation, room.points, at);
      room.points[at + Conversations.PARTS] = room.times[run];
      room.pointOf[batch++] = run;
      if (batch == BoxIndex.MOST_AT_ONCE) {
        decideBatch(batch, unsaid, room);
        batch = 0;
      }
    }
    decideBatch(batch, unsaid, room);
  }

  private void decideBatch(int batch, int unsaid, Room room) {
    if (batch == 0) {
      return;
    }
    int ignored = IGNORED[unsaid];
    compiled.index().first(room.points, batch, ignored, room.boxes);
    for (int i = 0; i < batch; i++) {
      int box = room.boxes[i];
      // What takes any of the connections it may be takes all, or something below it may be meant.
      boolean isCertain = unsaid == 0 || box < 0 || (wholeOf(box) & ignored) == ignored;
      room.found[room.pointOf[i]] = isCertain ? code(box) : partly(room.points, i, unsaid);
    }
  }

  private int partly(int[] points, int number, int unsaid) {
    int at = number * Space.DIMENSIONS;
    int[] point = Arrays.copyOfRange(points, at, at + Space.DIMENSIONS);
    List<CatchCodes.Catch> possible =
        Arrays.stream(partly.catches(point, Conversations.unsaidOf(unsaid)))
            .mapToObj(this::caught)
            .toList();
    return codes.code(possible);
  }

  private CatchCodes.Catch caught(int box) {
    if (box < 0) {
      return CatchCodes.Catch.DEFAULT_VERDICT;
    }
    int rule = compiled.ruleOfBox(box);
    return new CatchCodes.Catch(
        compiled.rules().get(rule).rule().id(), box - compiled.firstBox(rule));
  }

  private int code(int box) {
    if (box < 0) {
      return CatchCodes.DEFAULT_VERDICT;
    }
    int known = codeOfBox.get(box);
    if (known == 0) {
      known = codes.code(List.of(caught(box)));
      codeOfBox.set(box, known);
    }
    return known;
  }

  /** In which dimensions a box holds everything, a bit for each and one that says it is known. */
  private int wholeOf(int box) {
    int known = wholeOfBox.get(box);
    if (known == 0) {
      known = 1 << Space.DIMENSIONS;
      for (Dimension dimension : Dimension.values()) {
        int d = dimension.ordinal();
        if (compiled.box(box).side(d).count() == compiled.space().weights()[d].count()) {
          known |= 1 << d;
        }
      }
      wholeOfBox.set(box, known);
    }
    return known;
  }
}
