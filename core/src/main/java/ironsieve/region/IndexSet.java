package ironsieve.region;

import java.util.Arrays;
import java.util.function.IntConsumer;
import java.util.stream.IntStream;

/**
 * An immutable set of small whole numbers (atoms, rules), kept as a bit set in blocks of 512 from
 * its first member to its last. A set of neighbours is therefore small however long the universe
 * is, two sets in different regions are told apart by comparing two numbers, and what little is
 * taken from a large set leaves a set that shares all its other blocks.
 */
public final class IndexSet {

  /** How many words a block has; a word has 64 members. */
  static final int BLOCK = 8;

  private static final int WORD = 6;
  private static final int SHIFT = 9;

  /** The one block that has all its members. */
  static final long[] FULL = full();

  /** The set without members. */
  public static final IndexSet EMPTY = new IndexSet(0, new long[0][]);

  // The number of the first block; the first and the last have members, one without is null.
  private final int offset;
  private final long[][] blocks;
  // Worked out when first asked for; two threads that both do come to the same.
  private int hash;
  private Weighed weighed;

  /** What the set weighs by these weights. */
  private record Weighed(Weights weights, double sum) {}

  private IndexSet(int offset, long[][] blocks) {
    this.offset = offset;
    this.blocks = blocks;
  }

  private static long[] full() {
    long[] full = new long[BLOCK];
    Arrays.fill(full, -1L);
    return full;
  }

  /** The set of these members, in any order, each 0 or more. */
  public static IndexSet of(int... members) {
    if (members.length == 0) {
      return EMPTY;
    }
    int min = Integer.MAX_VALUE;
    int max = 0;
    for (int member : members) {
      min = Math.min(min, member);
      max = Math.max(max, member);
    }
    int offset = min >> SHIFT;
    long[] words = new long[((max >> SHIFT) + 1 - offset) * BLOCK];
    for (int member : members) {
      words[(member >> WORD) - offset * BLOCK] |= 1L << member;
    }
    return of(offset, words);
  }

  /** The set {@code 0 … size − 1}. */
  public static IndexSet upTo(int size) {
    long[][] blocks = new long[(size + (1 << SHIFT) - 1) >> SHIFT][];
    Arrays.fill(blocks, FULL);
    int over = size & ((1 << SHIFT) - 1);
    if (over != 0) {
      long[] last = new long[BLOCK];
      Arrays.fill(last, 0, over >> WORD, -1L);
      last[over >> WORD] = (1L << over) - 1;
      blocks[blocks.length - 1] = last;
    }
    return blocks.length == 0 ? EMPTY : new IndexSet(0, blocks);
  }

  /** The set with these bits; the array is copied. */
  public static IndexSet ofWords(long[] words) {
    return of(0, words);
  }

  private static IndexSet of(int offset, long[] words) {
    long[][] blocks = new long[(words.length + BLOCK - 1) / BLOCK][];
    for (int b = 0; b < blocks.length; b++) {
      blocks[b] = block(words, b * BLOCK);
    }
    return trimmed(offset, blocks);
  }

  private static long[] block(long[] words, int from) {
    int to = Math.min(words.length, from + BLOCK);
    long any = 0;
    long all = to - from == BLOCK ? -1L : 0;
    for (int i = from; i < to; i++) {
      any |= words[i];
      all &= words[i];
    }
    return any == 0 ? null : all == -1L ? FULL : Arrays.copyOfRange(words, from, from + BLOCK);
  }

  private static IndexSet trimmed(int offset, long[][] blocks) {
    int from = 0;
    int to = blocks.length;
    while (to > from && blocks[to - 1] == null) {
      to--;
    }
    while (from < to && blocks[from] == null) {
      from++;
    }
    if (from == to) {
      return EMPTY;
    }
    boolean whole = from == 0 && to == blocks.length;
    return new IndexSet(offset + from, whole ? blocks : Arrays.copyOfRange(blocks, from, to));
  }

  public boolean isEmpty() {
    return blocks.length == 0;
  }

  public boolean contains(int member) {
    int at = (member >> SHIFT) - offset;
    return at >= 0
        && at < blocks.length
        && blocks[at] != null
        && (blocks[at][member >> WORD & BLOCK - 1] & 1L << member) != 0;
  }

  /** All members of both sets; where these are all of one, it is the same object. */
  public IndexSet intersect(IndexSet other) {
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
    long[][] common = new long[to - from][];
    for (int b = from; b < to; b++) {
      common[b - from] = intersect(blocks[b - offset], other.blocks[b - other.offset]);
    }
    return trimmed(from, common);
  }

  private static long[] intersect(long[] one, long[] other) {
    if (one == other || one == null || other == FULL) {
      return one;
    }
    if (other == null || one == FULL) {
      return other;
    }
    long any = 0;
    long outsideOther = 0;
    long outsideOne = 0;
    for (int i = 0; i < BLOCK; i++) {
      any |= one[i] & other[i];
      outsideOther |= one[i] & ~other[i];
      outsideOne |= other[i] & ~one[i];
    }
    if (any == 0 || outsideOther == 0 || outsideOne == 0) {
      return any == 0 ? null : outsideOther == 0 ? one : other;
    }
    long[] both = new long[BLOCK];
    for (int i = 0; i < BLOCK; i++) {
      both[i] = one[i] & other[i];
    }
    return both;
  }

  /** All members of this set that are not in the other; the same object where that is all. */
  public IndexSet minus(IndexSet other) {
    int to = Math.min(end(), other.end());
    long[][] left = null;
    for (int b = Math.max(offset, other.offset); b < to; b++) {
      long[] mine = blocks[b - offset];
      long[] rest = minus(mine, other.blocks[b - other.offset]);
      if (rest != mine) {
        left = left == null ? blocks.clone() : left;
        left[b - offset] = rest;
      }
    }
    return left == null ? this : trimmed(offset, left);
  }

  private static long[] minus(long[] one, long[] other) {
    if (one == null || other == null) {
      return one;
    }
    if (one == other || other == FULL) {
      return null;
    }
    long common = 0;
    long left = 0;
    for (int i = 0; i < BLOCK; i++) {
      common |= one[i] & other[i];
      left |= one[i] & ~other[i];
    }
    if (common == 0 || left == 0) {
      return common == 0 ? one : null;
    }
    long[] rest = new long[BLOCK];
    for (int i = 0; i < BLOCK; i++) {
      rest[i] = one[i] & ~other[i];
    }
    return rest;
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
    int to = Math.max(end(), other.end());
    long[][] both = new long[to - from][];
    for (int b = from; b < to; b++) {
      both[b - from] = union(block(b), other.block(b));
    }
    return new IndexSet(from, both);
  }

  private long[] block(int number) {
    int at = number - offset;
    return at < 0 || at >= blocks.length ? null : blocks[at];
  }

  private static long[] union(long[] one, long[] other) {
    if (one == other || other == null || one == FULL) {
      return one;
    }
    if (one == null || other == FULL) {
      return other;
    }
    long all = -1L;
    long outsideOther = 0;
    long outsideOne = 0;
    for (int i = 0; i < BLOCK; i++) {
      all &= one[i] | other[i];
      outsideOther |= one[i] & ~other[i];
      outsideOne |= other[i] & ~one[i];
    }
    if (all == -1L || outsideOther == 0 || outsideOne == 0) {
      return all == -1L ? FULL : outsideOne == 0 ? one : other;
    }
    long[] both = new long[BLOCK];
    for (int i = 0; i < BLOCK; i++) {
      both[i] = one[i] | other[i];
    }
    return both;
  }

  /** Whether the sets have a member in common; stops at the first. */
  public boolean intersects(IndexSet other) {
    int to = Math.min(end(), other.end());
    for (int b = Math.max(offset, other.offset); b < to; b++) {
      long[] mine = blocks[b - offset];
      long[] its = other.blocks[b - other.offset];
      if (mine != null && its != null && intersects(mine, its)) {
        return true;
      }
    }
    return false;
  }

  private static boolean intersects(long[] one, long[] other) {
    for (int i = 0; i < BLOCK; i++) {
      if ((one[i] & other[i]) != 0) {
        return true;
      }
    }
    return false;
  }

  /** Whether every member of the other set is in this one; stops at the first that is not. */
  public boolean containsAll(IndexSet other) {
    if (other == this || other.isEmpty()) {
      return true;
    }
    if (other.offset < offset || other.end() > end()) {
      return false;
    }
    for (int b = 0; b < other.blocks.length; b++) {
      long[] its = other.blocks[b];
      long[] mine = blocks[other.offset - offset + b];
      if (its != null && mine != its && mine != FULL && (mine == null || !containsAll(mine, its))) {
        return false;
      }
    }
    return true;
  }

  private static boolean containsAll(long[] one, long[] other) {
    for (int i = 0; i < BLOCK; i++) {
      if ((other[i] & ~one[i]) != 0) {
        return false;
      }
    }
    return true;
  }

  /** The lowest member. The set must not be empty. */
  public int first() {
    return next(offset << SHIFT);
  }

  /** The highest member. The set must not be empty. */
  public int last() {
    long[] last = blocks[blocks.length - 1];
    int i = BLOCK - 1;
    while (last[i] == 0) {
      i--;
    }
    return (end() << SHIFT) - ((BLOCK - i - 1) << WORD) - 1 - Long.numberOfLeadingZeros(last[i]);
  }

  /** The lowest member that is {@code from} or more, or −1. */
  public int next(int from) {
    int b = Math.max(from >> SHIFT, offset);
    int word = b == from >> SHIFT ? from >> WORD & BLOCK - 1 : 0;
    long mask = b == from >> SHIFT ? -1L << from : -1L;
    for (; b < end(); b++) {
      long[] block = blocks[b - offset];
      for (; block != null && word < BLOCK; word++) {
        long bits = block[word] & mask;
        if (bits != 0) {
          return (b << SHIFT) + (word << WORD) + Long.numberOfTrailingZeros(bits);
        }
        mask = -1L;
      }
      word = 0;
      mask = -1L;
    }
    return -1;
  }

  /** How many members there are. */
  public int count() {
    int sum = 0;
    for (long[] block : blocks) {
      for (int i = 0; block != null && i < BLOCK; i++) {
        sum += Long.bitCount(block[i]);
      }
    }
    return sum;
  }

  /** Calls for each member, ascending. */
  public void forEach(IntConsumer action) {
    for (int b = 0; b < blocks.length; b++) {
      for (int i = 0; blocks[b] != null && i < BLOCK; i++) {
        int first = ((offset + b) << SHIFT) + (i << WORD);
        for (long word = blocks[b][i]; word != 0; word &= word - 1) {
          action.accept(first + Long.numberOfTrailingZeros(word));
        }
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
      known = new Weighed(weights, weights.sum(offset, blocks));
      weighed = known;
    }
    return known.sum;
  }

  /** The number behind the last block. */
  private int end() {
    return offset + blocks.length;
  }

  @Override
  public boolean equals(Object other) {
    return this == other
        || other instanceof IndexSet set
            && offset == set.offset
            && Arrays.equals(blocks, set.blocks, IndexSet::compare);
  }

  private static int compare(long[] one, long[] other) {
    return one == other ? 0 : Arrays.compare(one, other);
  }

  @Override
  public int hashCode() {
    if (hash == 0) {
      int sum = offset;
      for (long[] block : blocks) {
        sum = 31 * sum + Arrays.hashCode(block);
      }
      hash = sum;
    }
    return hash;
  }

  @Override
  public String toString() {
    return Arrays.toString(members());
  }
}
