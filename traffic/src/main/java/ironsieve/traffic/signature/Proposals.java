package ironsieve.traffic.signature;

import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Condition.Term;
import ironsieve.traffic.signature.ValueTest.How;
import ironsieve.traffic.signature.ValueTest.Literal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** Terms that hold of a connection, for somebody who writes a signature for it: widest first. */
public final class Proposals {

  private static final int FIRST_BYTES = 4;
  private static final int TEXT_BYTES = 16;

  private Proposals() {}

  /** What can be asked of a fact, as text; one and the same term may do for several facts. */
  public static List<String> of(Fact fact) {
    List<Term> terms = new ArrayList<>();
    switch (fact.field().kind()) {
      case NAME -> {
        for (String name : above(fact.text())) {
          terms.add(term(fact, new ValueTest.Under(List.of(name))));
        }
        terms.add(term(fact, text(How.IS, fact.text())));
      }
      case BYTES -> bytes(fact, terms);
      case TEXT -> {
        if (fact.field() == Field.PATH) {
          path(fact, terms);
        } else {
          terms.add(term(fact, text(How.STARTS, fact.text())));
        }
      }
      default -> terms.add(term(fact, text(How.IS, fact.text())));
    }
    return terms.stream().map(Term::toString).distinct().toList();
  }

  private static Term term(Fact fact, ValueTest test) {
    return new Term(fact.field(), fact.header(), test);
  }

  private static ValueTest text(How how, String value) {
    return new ValueTest.Text(how, List.of(Literal.text(value)));
  }

  /** The names above a name, from two labels on, and the name itself. */
  private static List<String> above(String name) {
    List<String> names = new ArrayList<>();
    int labels = (int) name.chars().filter(c -> c == '.').count() + 1;
    for (int count = 2; count <= labels; count++) {
      int at = name.length();
      for (int i = 0; i < count && at >= 0; i++) {
        at = name.lastIndexOf('.', at - 1);
      }
      names.add(name.substring(at + 1));
    }
    return names.isEmpty() ? List.of(name) : names;
  }

  private static void path(Fact fact, List<Term> terms) {
    String path = fact.text().split("[?#]", 2)[0];
    for (int slash = path.indexOf('/', 1); slash > 0; slash = path.indexOf('/', slash + 1)) {
      terms.add(term(fact, text(How.STARTS, path.substring(0, slash + 1))));
    }
    terms.add(term(fact, text(How.STARTS, path)));
  }

  private static void bytes(Fact fact, List<Term> terms) {
    byte[] value = fact.value();
    int readable = 0;
    while (readable < Math.min(value.length, TEXT_BYTES)
        && value[readable] >= 0x20
        && value[readable] < 0x7F) {
      readable++;
    }
    if (readable >= FIRST_BYTES) {
      String text = new String(value, 0, readable, java.nio.charset.StandardCharsets.US_ASCII);
      int space = text.indexOf(' ');
      if (space > 0) {
        terms.add(term(fact, text(How.STARTS, text.substring(0, space + 1))));
      }
      terms.add(term(fact, text(How.STARTS, text)));
    } else if (value.length > 0) {
      byte[] first = Arrays.copyOf(value, Math.min(FIRST_BYTES, value.length));
      byte[] mask = new byte[first.length];
      Arrays.fill(mask, (byte) -1);
      terms.add(term(fact, new ValueTest.Masked(0, first, mask)));
    }
  }
}
