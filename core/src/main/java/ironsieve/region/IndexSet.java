package ironsieve.region;

import java.util.Arrays;
import java.util.function.IntConsumer;
import java.util.stream.IntStream;

/**
 * An immutable set of small whole numbers (atoms, rules), kept as a bit set trimmed to the words
 * between its first and last member. A set of neighbours is therefore small however long the
 * universe is, and two sets in different regions are told apart by comparing two numbers.
 */
public final class IndexSet {

  /** The set without members. */
  public static final IndexSet EMPTY = new IndexSet(0, new long[0]);

  private final int offset;
  private final long[] words;
  // Worked out when first asked for; two threads that both do come to the same.
  private int hash;
  private Weighed weighed;

  /** What the set weighs by these weights. */
  private record Weighed(Weights weights, double sum) {}

  private IndexSet(int offset, long[] words) {
    this.offset = offset;
    this.words = words;
  }

  /** The set of these members, in any order, each 0 or more. */
  public static IndexSet of(int... members) {
    if (members.length == 0) {
      return EMPTY;
    }
    int max = Arrays.stream(members).max().getAsInt();
    long[] words = new long[(max >> 6) + 1];
    for (int member : members) {
      words[member >> 6] |= 1L << member;
    }
    return trimmed(0, words);
  }

  /** The set {@code 0 … size − 1}. */
  public static IndexSet upTo(int size) {
    long[] words = new long[(size + 63) >> 6];
    Arrays.fill(words, -1L);
    if ((size & 63) != 0) {
      words[words.length - 1] = (1L << size) - 1;
    }
    return trimmed(0, words);
  }

  /** The set with these bits; the array is copied. */
  public static IndexSet ofWords(long[] words) {
    return trimmed(0, words.clone());
  }

  private static IndexSet trimmed(int offset, long[] words) {
    int from = 0;
    int to = words.length;
    while (to > from && words[to - 1] == 0) {
      to--;
    }
    while (from < to && words[from] == 0) {
      from++;
    }
    if (from == to) {
      return EMPTY;
    }
    boolean whole = from == 0 && to == words.length;
    return new IndexSet(offset + from, whole ? words : Arrays.copyOfRange(words, from, to));
  }

  public boolean isEmpty() {
    return words.length == 0;
  }

  public boolean contains(int member) {
    int at = (member >> 6) - offset;
    return at >= 0 && at < words.length && (words[at] & (1L << member)) != 0;
  }

  /** All members of both sets. */
  public IndexSet intersect(IndexSet other) {
    // The same set stays the same object, with what is known of it.
    if (other.containsAll(this)) {
      return this;
    }
    if (containsAll(other)) {
      return other;
    }
    int from = Math.max(offset, other.offset);
    int to = Math.min(end(), other.end());
    if (from >= to) {
      return EMPTY;
    }
    long[] common = new long[to - from];
    for (int i = from; i < to; i++) {
      common[i - from] = words[i - offset] & other.words[i - other.offset];
    }
    return trimmed(from, common);
  }

  /** All members of this set that are not in the other. */
  public IndexSet minus(IndexSet other) {
    if (!intersects(other)) {
      return this;
    }
    long[] left = words.clone();
    int from = Math.max(offset, other.offset);
    int to = Math.min(end(), other.end());
    for (int i = from; i < to; i++) {
      left[i - offset] &= ~other.words[i - other.offset];
    }
    return trimmed(offset, left);
  }

  /** All members of either set. */
  public IndexSet union(IndexSet other) {
    if (isEmpty()) {
      return other;
    }
    if (other.isEmpty()) {
      return this;
    }
    int from = Math.min(offset, other.offset);
    long[] both = new long[Math.max(end(), other.end()) - from];
    System.arraycopy(words, 0, both, offset - from, words.length);
    for (int i = 0; i < other.words.length; i++) {
      both[other.offset - from + i] |= other.words[i];
    }
    return new IndexSet(from, both);
  }

  /** Whether the sets have a member in common; stops at the first. */
  public boolean intersects(IndexSet other) {
    int to = Math.min(end(), other.end());
    for (int i = Math.max(offset, other.offset); i < to; i++) {
      if ((words[i - offset] & other.words[i - other.offset]) != 0) {
        return true;
      }
    }
    return false;
  }

  /** Whether every member of the other set is in this one; stops at the first that is not. */
  public boolean containsAll(IndexSet other) {
    if (other.isEmpty()) {
      return true;
    }
    if (other.offset < offset || other.end() > end()) {
      return false;
    }
    for (int i = 0; i < other.words.length; i++) {
      if ((other.words[i] & ~words[other.offset - offset + i]) != 0) {
        return false;
      }
    }
    return true;
  }

  /** The lowest member. The set must not be empty. */
  public int first() {
    return (offset << 6) + Long.numberOfTrailingZeros(words[0]);
  }

  /** The highest member. The set must not be empty. */
  public int last() {
    return (end() << 6) - 1 - Long.numberOfLeadingZeros(words[words.length - 1]);
  }

  /** The lowest member that is {@code from} or more, or −1. */
  public int next(int from) {
    int at = Math.max(from >> 6, offset);
    if (at >= end()) {
      return -1;
    }
    long word = words[at - offset] & (at == from >> 6 ? -1L << from : -1L);
    while (word == 0) {
      if (++at >= end()) {
        return -1;
      }
      word = words[at - offset];
    }
    return (at << 6) + Long.numberOfTrailingZeros(word);
  }

  /** How many members there are. */
  public int count() {
    int sum = 0;
    for (long word : words) {
      sum += Long.bitCount(word);
    }
    return sum;
  }

  /** Calls for each member, ascending. */
  public void forEach(IntConsumer action) {
    for (int i = 0; i < words.length; i++) {
      for (long word = words[i]; word != 0; word &= word - 1) {
        action.accept(((offset + i) << 6) + Long.numberOfTrailingZeros(word));
      }
    }
  }

  /** The members, ascending. */
  public int[] members() {
    IntStream.Builder members = IntStream.builder();
    forEach(members::add);
    return members.build().toArray();
  }

  /** The sum of the members' weights. */
  public double weight(Weights weights) {
    Weighed known = weighed;
    if (known == null || known.weights != weights) {
      known = new Weighed(weights, weights.sum(offset, words));
      weighed = known;
    }
    return known.sum;
  }

  private int end() {
    return offset + words.length;
  }

  @Override
  public boolean equals(Object other) {
    return this == other
        || other instanceof IndexSet set && offset == set.offset && Arrays.equals(words, set.words);
  }

  @Override
  public int hashCode() {
    if (hash == 0) {
      hash = 31 * offset + Arrays.hashCode(words);
    }
    return hash;
  }

  @Override
  public String toString() {
    return Arrays.toString(members());
  }
}
