package ironsieve.traffic.signature;

import com.google.re2j.Pattern;
import ironsieve.traffic.protocol.ConnectionFacts;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.IntConsumer;

/** All terms about the texts of one field, found together. */
final class FieldIndex {

  private static final byte DOT = '.';

  private final ByteTrie exact = new ByteTrie();
  private final ByteTrie starts = new ByteTrie();
  private final ByteTrie ends = new ByteTrie();
  private final ByteTrie holds = new ByteTrie();

  /** Masked terms by the place and the value of one of their bytes. */
  private final Map<Integer, List<List<MaskedTerm>>> masked = new TreeMap<>();

  private final List<Expression> expressions = new ArrayList<>();

  private record MaskedTerm(ValueTest.Masked test, int number) {}

  private record Expression(Pattern pattern, int number) {}

  void add(ValueTest test, int number) {
    if (test instanceof ValueTest.Text text) {
      text.values().forEach(literal -> add(text.how(), literal.bytes(), number));
    } else if (test instanceof ValueTest.Under under) {
      for (String name : under.names()) {
        byte[] bytes = ValueTest.Literal.text(name).bytes();
        exact.add(bytes, number);
        ends.addReversed(dotted(bytes), number);
      }
    } else if (test instanceof ValueTest.Masked one) {
      add(one, number);
    } else if (test instanceof ValueTest.Matches matches) {
      // Only where the letters it must have are, the expression itself is tried.
      int place = -1 - expressions.size();
      expressions.add(new Expression(matches.pattern(), number));
      holds.add(matches.literal().bytes(), place);
    } else {
      throw new IllegalArgumentException(test + " is not about a text");
    }
  }

  private static byte[] dotted(byte[] name) {
    byte[] dotted = new byte[name.length + 1];
    dotted[0] = DOT;
    System.arraycopy(name, 0, dotted, 1, name.length);
    return dotted;
  }

  private void add(ValueTest.How how, byte[] bytes, int number) {
    switch (how) {
      case IS -> exact.add(bytes, number);
      case STARTS -> starts.add(bytes, number);
      case ENDS -> ends.addReversed(bytes, number);
      case CONTAINS -> holds.add(bytes, number);
    }
  }

  private void add(ValueTest.Masked test, int number) {
    int best = 0;
    for (int i = 0; i < test.mask().length; i++) {
      if (Integer.bitCount(test.mask()[i] & 0xFF) > Integer.bitCount(test.mask()[best] & 0xFF)) {
        best = i;
      }
    }
    List<List<MaskedTerm>> values =
        masked.computeIfAbsent(
            test.offset() + best,
            place -> {
              List<List<MaskedTerm>> all = new ArrayList<>();
              for (int i = 0; i < 256; i++) {
                all.add(new ArrayList<>(0));
              }
              return all;
            });
    for (int value = 0; value < 256; value++) {
      if (((value ^ test.bytes()[best]) & test.mask()[best] & 0xFF) == 0) {
        values.get(value).add(new MaskedTerm(test, number));
      }
    }
  }

  /** Makes it ready; once everything is in it. */
  void link() {
    holds.link();
  }

  /** The numbers of all terms that hold of a value, some of them several times. */
  void find(byte[] value, IntConsumer found) {
    exact.is(value, found);
    starts.starts(value, found);
    ends.ends(value, found);
    masked.forEach(
        (place, values) -> {
          if (place < value.length) {
            for (MaskedTerm term : values.get(value[place] & 0xFF)) {
              if (term.test().holds(value)) {
                found.accept(term.number());
              }
            }
          }
        });
    if (!holds.isEmpty()) {
      contained(value, found);
    }
  }

  private void contained(byte[] value, IntConsumer found) {
    boolean[] tried = expressions.isEmpty() ? null : new boolean[expressions.size()];
    String[] text = new String[1];
    holds.holds(
        value,
        number -> {
          if (number >= 0) {
            found.accept(number);
            return;
          }
          int place = -1 - number;
          if (tried[place]) {
            return;
          }
          tried[place] = true;
          if (text[0] == null) {
            text[0] = ConnectionFacts.latin(value, 0, value.length);
          }
          Expression expression = expressions.get(place);
          if (expression.pattern().matcher(text[0]).find()) {
            found.accept(expression.number());
          }
        });
  }
}
