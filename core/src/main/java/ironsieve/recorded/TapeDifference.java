package ironsieve.recorded;

import ironsieve.compile.Dimension;
import ironsieve.recorded.LineBlock.Column;
import java.util.Arrays;
import java.util.List;

/**
 * How a tape differs from what it was before.
 *
 * @param added lines whose conversation was not had in that minute before
 * @param gone lines whose conversation is not had in that minute any more
 */
public record TapeDifference(long added, long gone) {

  /** Of two tapes, whose values may have other numbers. */
  public static TapeDifference of(TapeColumns before, TapeColumns after) {
    ColumnsBuilder numbering = new ColumnsBuilder(block -> {});
    long[] was = keys(before, numbering);
    long[] is = keys(after, numbering);
    long both = 0;
    int i = 0;
    int j = 0;
    while (i < was.length && j < is.length) {
      if (was[i] == is[j]) {
        both++;
        i++;
        j++;
      } else if (was[i] < is[j]) {
        i++;
      } else {
        j++;
      }
    }
    return new TapeDifference(is.length - both, was.length - both);
  }

  /** Conversation and minute of each line, ascending and each once. */
  private static long[] keys(TapeColumns tape, ColumnsBuilder numbering) {
    Values values = tape.values();
    int[] from = numbers(values.from(), numbering::from);
    int[] people = numbers(values.people(), numbering::person);
    int[] devices = numbers(values.devices(), numbering::device);
    int[] to = numbers(values.to(), numbering::to);
    int[] hosts = numbers(values.hosts(), numbering::host);
    int[] services = numbers(values.services(), numbering::service);
    Conversations all = tape.conversations();
    int[] numbers = new int[all.count()];
    for (int c = 0; c < numbers.length; c++) {
      // What it uses is told by its sample, whose number may be another one.
      boolean isSampled = all.sample(c) >= 0;
      numbers[c] =
          numbering.conversation(
              new ColumnsBuilder.Numbers(
                  from[all.part(c, Dimension.FROM)],
                  people[all.part(c, Dimension.PERSON)],
                  devices[all.part(c, Dimension.DEVICE)],
                  to[all.part(c, Dimension.TO)],
                  hosts[all.part(c, Dimension.SITE)],
                  services[all.part(c, Dimension.SERVICE)],
                  isSampled ? 0 : numbering.use(values.uses().get(all.part(c, Dimension.USING))),
                  all.unsaidBits(c),
                  isSampled ? 0 : -1));
    }
    long[] keys = new long[Math.toIntExact(tape.lines())];
    int next = 0;
    int[] conversations = new int[LineBlock.MOST];
    int[] minutes = new int[LineBlock.MOST];
    for (LineBlock block : tape.blocks()) {
      block.read(Column.CONVERSATION, conversations);
      block.read(Column.MINUTE, minutes);
      for (int i = 0; i < block.count(); i++) {
        keys[next++] = (long) numbers[conversations[i]] << 32 | minutes[i] & 0xFFFF_FFFFL;
      }
    }
    Arrays.parallelSort(keys);
    int distinct = 0;
    for (int i = 0; i < keys.length; i++) {
      if (i == 0 || keys[i] != keys[i - 1]) {
        keys[distinct++] = keys[i];
      }
    }
    return Arrays.copyOf(keys, distinct);
  }

  private static <T> int[] numbers(List<T> values, java.util.function.ToIntFunction<T> number) {
    int[] all = new int[values.size()];
    for (int i = 0; i < all.length; i++) {
      all[i] = number.applyAsInt(values.get(i));
    }
    return all;
  }
}
