package ironsieve.recorded;

import ironsieve.recorded.LineBlock.Column;
import java.util.stream.IntStream;

/**
 * The codes of whole blocks. Where rules tell few times apart, each conversation is decided once
 * for each of those times at which it was had, however many lines that are; else line by line.
 */
final class ConversationDecisions {

  /** So many conversations are decided together. */
  private static final int TOGETHER = 1 << 13;

  private final Located located;
  private final Conversations conversations;
  private final Deciding deciding;
  private final int times;
  private final int[] known;

  private ConversationDecisions(
      Located located, Conversations conversations, Deciding deciding, int times, int[] known) {
    this.located = located;
    this.conversations = conversations;
    this.deciding = deciding;
    this.times = times;
    this.known = known;
  }

  static ConversationDecisions of(TapeColumns tape, Located located, Deciding deciding) {
    Conversations conversations = tape.conversations();
    long questions = (long) conversations.count() * located.timesToldApart();
    if (questions > tape.lines()) {
      return new ConversationDecisions(located, conversations, deciding, 0, null);
    }
    int times = located.timesToldApart();
    boolean[] isAsked = new boolean[(int) questions];
    // Several threads write, but all of them the same.
    RecordedDecisions.striped(
        tape.blocks().size(),
        stripe -> {
          int[] of = new int[LineBlock.MOST];
          int[] minutes = new int[LineBlock.MOST];
          stripe.forEach(
              b -> {
                LineBlock block = tape.blocks().get(b);
                block.read(Column.CONVERSATION, of);
                block.read(Column.MINUTE, minutes);
                for (int i = 0; i < block.count(); i++) {
                  isAsked[of[i] * times + located.timeNumber(minutes[i])] = true;
                }
              });
          return times;
        });
    int[] known = new int[isAsked.length];
    IntStream.range(0, (conversations.count() + TOGETHER - 1) / TOGETHER)
        .parallel()
        .forEach(
            part -> {
              int begin = part * TOGETHER * times;
              int end = Math.min(known.length, begin + TOGETHER * times);
              answer(located, conversations, deciding, times, isAsked, known, begin, end);
            });
    return new ConversationDecisions(located, conversations, deciding, times, known);
  }

  private static void answer(
      Located located,
      Conversations all,
      Deciding deciding,
      int times,
      boolean[] isAsked,
      int[] known,
      int begin,
      int end) {
    int most = Math.min(LineBlock.MOST, end - begin);
    Deciding.Room room = new Deciding.Room(most);
    int[] conversations = new int[most];
    int[] minutes = new int[most];
    int[] places = new int[most];
    int[] codes = new int[most];
    int count = 0;
    for (int i = begin; i < end; i++) {
      if (isAsked[i]) {
        places[count] = i;
        conversations[count] = i / times;
        minutes[count++] = located.minuteOf(i % times);
      }
      if (count == most || i == end - 1) {
        deciding.decide(located, all, conversations, minutes, count, codes, room);
        for (int n = 0; n < count; n++) {
          known[places[n]] = codes[n];
        }
        count = 0;
      }
    }
  }

  /** The codes of the lines of a block. */
  int[] codes(BlockLines lines) {
    int count = lines.count();
    int[] codes = new int[count];
    int[] of = lines.conversations();
    int[] minutes = lines.minutes();
    if (known == null) {
      deciding.decide(located, conversations, of, minutes, count, codes, new Deciding.Room(count));
      return codes;
    }
    for (int i = 0; i < count; i++) {
      codes[i] = known[of[i] * times + located.timeNumber(minutes[i])];
    }
    return codes;
  }
}
