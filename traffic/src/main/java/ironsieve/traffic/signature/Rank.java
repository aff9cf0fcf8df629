package ironsieve.traffic.signature;

import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Condition.Term;
import java.util.Comparator;

/**
 * How specific a clause is. Of several that hold the first in this order decides: the
 * organisation's own before an edition's; what asks for a name or content before what asks for a
 * protocol, and that before hints; the longer name before the shorter; what asks for more before
 * what asks for less.
 *
 * @param strength 3 for names, 2 for content, 1 for a protocol, 0 for hints
 * @param nameLabels labels of the longest name that is asked for
 * @param isExactName whether that name is asked for exactly
 * @param terms how many things are asked for
 * @param letters how many bytes are asked for in all
 */
record Rank(
    boolean isOwn, int strength, int nameLabels, boolean isExactName, int terms, int letters)
    implements Comparable<Rank> {

  private static final Comparator<Rank> ORDER =
      Comparator.comparing(Rank::isOwn)
          .thenComparingInt(Rank::strength)
          .thenComparingInt(Rank::nameLabels)
          .thenComparing(Rank::isExactName)
          .thenComparingInt(Rank::terms)
          .thenComparingInt(Rank::letters);

  static Rank of(boolean isOwn, Clause clause) {
    int strength = 0;
    int labels = 0;
    boolean isExact = false;
    int letters = 0;
    for (Term term : clause.wanted()) {
      strength = Math.max(strength, strength(term.field()));
      if (isNaming(term.field())) {
        int own = labels(term.test());
        boolean exact = isExact(term.test());
        if (own > labels || own == labels && exact) {
          labels = own;
          isExact = exact;
        }
      }
      letters += letters(term.test());
    }
    return new Rank(
        isOwn,
        strength,
        labels,
        isExact,
        clause.wanted().size() + clause.unwanted().size(),
        letters);
  }

  static boolean isNaming(Field field) {
    return field.kind() == Field.Kind.NAME;
  }

  private static int strength(Field field) {
    if (isNaming(field)) {
      return 3;
    }
    return switch (field) {
      case PORT, ADDRESS -> 0;
      case PROTOCOL, TLS_VERSION, METHOD, STATUS, CLIENT_SIZES, SERVER_SIZES -> 1;
      default -> 2;
    };
  }

  /** Labels of the shortest name in a list: the least that a connection it holds of has shown. */
  private static int labels(ValueTest test) {
    if (test instanceof ValueTest.Under under) {
      return under.names().stream().mapToInt(Rank::labels).min().orElse(0);
    }
    if (test instanceof ValueTest.Text text && text.how() == ValueTest.How.IS) {
      return text.values().stream()
          .mapToInt(
              literal ->
                  labels(new String(literal.bytes(), java.nio.charset.StandardCharsets.UTF_8)))
          .min()
          .orElse(0);
    }
    return 0;
  }

  private static int labels(String name) {
    return (int) name.chars().filter(c -> c == '.').count() + 1;
  }

  private static boolean isExact(ValueTest test) {
    return test instanceof ValueTest.Text text && text.how() == ValueTest.How.IS;
  }

  private static int letters(ValueTest test) {
    if (test instanceof ValueTest.Text text) {
      return text.values().stream().mapToInt(literal -> literal.bytes().length).min().orElse(0);
    }
    if (test instanceof ValueTest.Masked masked) {
      int bits = 0;
      for (byte mask : masked.mask()) {
        bits += Integer.bitCount(mask & 0xFF);
      }
      return bits / 8;
    }
    return test instanceof ValueTest.Matches matches ? matches.literal().bytes().length : 0;
  }

  @Override
  public int compareTo(Rank other) {
    return ORDER.compare(this, other);
  }
}
