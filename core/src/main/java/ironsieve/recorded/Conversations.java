package ironsieve.recorded;

import ironsieve.compile.Dimension;
import ironsieve.model.Tape.Unsaid;
import java.util.EnumSet;
import java.util.Set;

/**
 * The distinct conversations of a tape: all that its connections are but for when. Each has a
 * number, and for each of its parts the place of the value in {@link Values}.
 */
public final class Conversations {

  /** All dimensions but time. */
  public static final int PARTS = 7;

  private final int count;
  private final int[][] parts;
  private final byte[] unsaid;
  private final int[] samples;

  /**
   * So many conversations.
   *
   * @param parts for each part a column; at least {@code count} long
   * @param unsaid what is not said of each, a bit for each of {@link Unsaid}
   * @param samples the sample each was told by, −1 for none
   */
  public Conversations(int count, int[][] parts, byte[] unsaid, int[] samples) {
    this.count = count;
    this.parts = parts;
    this.unsaid = unsaid;
    this.samples = samples;
  }

  /** How many there are. */
  public int count() {
    return count;
  }

  /** The place of a part's value. */
  public int part(int conversation, Dimension part) {
    return parts[part.ordinal()][conversation];
  }

  /** The sample it was told by; −1 for none. */
  public int sample(int conversation) {
    return samples[conversation];
  }

  /** What is not said of it, as bits. */
  public int unsaidBits(int conversation) {
    return unsaid[conversation];
  }

  /** What is not said of it. */
  public Set<Unsaid> unsaid(int conversation) {
    return unsaidOf(unsaid[conversation]);
  }

  /** How many bytes of memory the columns take. */
  public long bytes() {
    return (long) count * (Integer.BYTES * (parts.length + 1) + 1);
  }

  /** A column; not to be changed. */
  public int[] column(int part) {
    return parts[part];
  }

  /** The same conversations with another column for what they use. */
  public Conversations using(int[] uses) {
    int[][] others = parts.clone();
    others[Dimension.USING.ordinal()] = uses;
    return new Conversations(count, others, unsaid, samples);
  }

  static Set<Unsaid> unsaidOf(int bits) {
    if (bits == 0) {
      return Set.of();
    }
    Set<Unsaid> all = EnumSet.noneOf(Unsaid.class);
    for (Unsaid one : Unsaid.values()) {
      if ((bits >> one.ordinal() & 1) != 0) {
        all.add(one);
      }
    }
    return all;
  }

  static int bits(Set<Unsaid> unsaid) {
    int bits = 0;
    for (Unsaid one : unsaid) {
      bits |= 1 << one.ordinal();
    }
    return bits;
  }
}
