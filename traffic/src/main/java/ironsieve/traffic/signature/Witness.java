package ironsieve.traffic.signature;

import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.signature.Condition.Term;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Makes up what a connection shows of which a clause holds. Not every clause that some connection
 * fulfils is fulfilled by what this makes up, so it is tried before it is handed on: what comes out
 * is right, and what does not come out may still be possible.
 */
public final class Witness {

  private static final int LONGEST_BYTES = 1_024;
  private static final Address SERVER = Address.parse("203.0.113.10");

  private Witness() {}

  /** A connection that a signature holds of; nothing where none could be made up. */
  public static Optional<Unit> of(Signature application, Optional<Signature> feature) {
    for (Clause clause : Clause.of(application)) {
      List<Clause> more =
          feature.isEmpty() ? List.of(new Clause(List.of(), List.of())) : Clause.of(feature.get());
      for (Clause other : more) {
        Optional<Unit> unit = of(clause.and(other));
        if (unit.isPresent()) {
          return unit;
        }
      }
    }
    return Optional.empty();
  }

  static Optional<Unit> of(Clause clause) {
    Map<List<String>, List<Term>> byField = new LinkedHashMap<>();
    for (Term term : clause.wanted()) {
      byField
          .computeIfAbsent(List.of(term.field().name(), term.header()), field -> new ArrayList<>())
          .add(term);
    }
    List<Fact> connection = new ArrayList<>();
    List<Fact> request = new ArrayList<>();
    Service service = new Service(Service.TCP, 443);
    Address server = SERVER;
    List<ValueTest.Size> sizes = new ArrayList<>();
    for (List<Term> terms : byField.values()) {
      Field field = terms.get(0).field();
      if (field == Field.PORT) {
        service = service(terms).orElse(service);
      } else if (field == Field.ADDRESS) {
        server = ((ValueTest.Networks) terms.get(0).test()).ranges().get(0).low();
      } else if (field.kind() == Field.Kind.NUMBER) {
        terms.forEach(term -> sizes.add((ValueTest.Size) term.test()));
      } else {
        // Several things can be asked of one value, or of as many values as the field can have.
        boolean isMany =
            field == Field.ALPN || field == Field.PROTOCOL || field == Field.CERTIFICATE;
        List<List<Term>> groups = isMany ? terms.stream().map(List::of).toList() : List.of(terms);
        for (List<Term> group : groups) {
          Optional<byte[]> value = value(field, group);
          if (value.isEmpty()) {
            return Optional.empty();
          }
          Fact fact = new Fact(field, group.get(0).header(), value.get());
          (isOfRequest(field) ? request : connection).add(fact);
        }
      }
    }
    ConnectionFacts shown = new ConnectionFacts(service, server);
    connection.forEach(shown::add);
    sized(shown, sizes);
    if (!request.isEmpty()) {
      shown.request(request);
    }
    Unit unit = new Unit(shown, request);
    return clause.holds(unit) && isPossible(unit) ? Optional.of(unit) : Optional.empty();
  }

  /** Whether what was made up goes together: who speaks TLS or HTTP begins as these do. */
  private static boolean isPossible(Unit unit) {
    boolean isTls =
        unit.facts()
            .anyMatch(
                fact ->
                    fact.field() == Field.SERVER_NAME
                        || fact.field() == Field.ALPN
                        || fact.field() == Field.TLS_VERSION
                        || fact.field() == Field.CERTIFICATE
                        || fact.field() == Field.PROTOCOL && !fact.text().equals("HTTP"));
    boolean isHttp =
        !isTls
            && (unit.facts().anyMatch(fact -> fact.field() == Field.PROTOCOL)
                || !unit.request().isEmpty());
    return unit.facts()
        .filter(fact -> fact.field() == Field.CLIENT_BYTES)
        .allMatch(
            fact ->
                isTls
                    ? fact.value().length > 0 && fact.value()[0] == 0x16
                    : !isHttp
                        || ConnectionFacts.latin(fact.value(), 0, fact.value().length)
                            .matches("(?s)[A-Z]{3,9} /.*"));
  }

  /** A service in all of several lists: where two ranges meet, one of them begins. */
  private static Optional<Service> service(List<Term> terms) {
    return terms.stream()
        .flatMap(term -> ((ValueTest.Ports) term.test()).ranges().stream())
        .map(range -> range.low())
        .filter(
            low ->
                terms.stream()
                    .allMatch(term -> term.test().holds(new ConnectionFacts(low, SERVER))))
        .findFirst();
  }

  private static void sized(ConnectionFacts shown, List<ValueTest.Size> sizes) {
    for (boolean byClient : new boolean[] {true, false}) {
      List<ValueTest.Size> own = sizes.stream().filter(s -> s.byClient() == byClient).toList();
      int last = own.stream().mapToInt(ValueTest.Size::number).max().orElse(0);
      for (int number = 1; number <= last; number++) {
        int which = number;
        int low =
            own.stream()
                .filter(size -> size.number() == which)
                .mapToInt(ValueTest.Size::low)
                .max()
                .orElse(100);
        shown.sized(byClient, low);
      }
    }
  }

  /** Whether a field is shown by each request, and not by the connection. */
  public static boolean isOfRequest(Field field) {
    return switch (field) {
      case HOST, METHOD, PATH, HEADER, CONTENT_TYPE, STATUS, DNS_NAME -> true;
      default -> false;
    };
  }

  /** The longest name that a clause asks for. */
  static Optional<String> name(Clause clause) {
    return clause.wanted().stream()
        .filter(term -> Rank.isNaming(term.field()))
        .flatMap(term -> names(term.test()).stream())
        .max(java.util.Comparator.comparingInt(String::length));
  }

  private static List<String> names(ValueTest test) {
    if (test instanceof ValueTest.Under under) {
      return under.names();
    }
    return test instanceof ValueTest.Text text && text.how() == ValueTest.How.IS
        ? text.values().stream()
            .map(literal -> new String(literal.bytes(), StandardCharsets.UTF_8))
            .toList()
        : List.of();
  }

  /** A value that is all that is asked for; nothing where none was found. */
  private static Optional<byte[]> value(Field field, List<Term> terms) {
    List<byte[]> tried = new ArrayList<>();
    for (Term term : terms) {
      tried.addAll(whole(term.test()));
    }
    tried.add(pieced(terms));
    return tried.stream()
        .filter(value -> terms.stream().allMatch(term -> term.test().holds(value)))
        .findFirst()
        .map(value -> field.kind() == Field.Kind.NAME ? lower(value) : value);
  }

  private static byte[] lower(byte[] value) {
    return Fact.name(new String(value, StandardCharsets.UTF_8)).getBytes(StandardCharsets.UTF_8);
  }

  /** Values that fit one test as they are. */
  private static List<byte[]> whole(ValueTest test) {
    if (test instanceof ValueTest.Under under) {
      return under.names().stream()
          .map(name -> ("www." + name).getBytes(StandardCharsets.UTF_8))
          .toList();
    }
    if (test instanceof ValueTest.Text text) {
      return text.values().stream().map(ValueTest.Literal::bytes).toList();
    }
    return List.of();
  }

  /** What is asked for at the beginning, anywhere and at the end, one after the other. */
  private static byte[] pieced(List<Term> terms) {
    byte[] value = new byte[0];
    List<byte[]> inside = new ArrayList<>();
    byte[] end = new byte[0];
    for (Term term : terms) {
      if (term.test() instanceof ValueTest.Text text) {
        byte[] first = text.values().get(0).bytes();
        switch (text.how()) {
          case IS, STARTS -> value = first.length > value.length ? over(first, value) : value;
          case CONTAINS -> inside.add(first);
          case ENDS -> end = first.length > end.length ? first : end;
        }
      } else if (term.test() instanceof ValueTest.Masked masked) {
        value = over(value, masked);
      } else if (term.test() instanceof ValueTest.Under under) {
        end = ("." + under.names().get(0)).getBytes(StandardCharsets.UTF_8);
      } else if (term.test() instanceof ValueTest.Matches matches) {
        Expressions.example(matches.pattern().pattern()).ifPresent(inside::add);
      }
    }
    for (byte[] piece : inside) {
      // An expression that is bound to the beginning has to stand there.
      value = value.length == 0 ? piece : indexOf(value, piece) >= 0 ? value : joined(value, piece);
    }
    byte[] all = joined(value, end);
    return all.length > LONGEST_BYTES ? Arrays.copyOf(all, LONGEST_BYTES) : all;
  }

  private static int indexOf(byte[] value, byte[] piece) {
    return ConnectionFacts.latin(value, 0, value.length)
        .indexOf(ConnectionFacts.latin(piece, 0, piece.length));
  }

  private static byte[] over(byte[] first, byte[] before) {
    byte[] result = first.clone();
    for (int i = first.length; i < before.length; i++) {
      result = joined(result, new byte[] {before[i]});
    }
    return result;
  }

  private static byte[] over(byte[] value, ValueTest.Masked masked) {
    int end = masked.offset() + masked.bytes().length;
    byte[] result = Arrays.copyOf(value, Math.max(value.length, end));
    for (int i = 0; i < masked.bytes().length; i++) {
      int at = masked.offset() + i;
      result[at] = (byte) (result[at] & ~masked.mask()[i] | masked.bytes()[i] & masked.mask()[i]);
    }
    return result;
  }

  private static byte[] joined(byte[] first, byte[] second) {
    byte[] joined = Arrays.copyOf(first, first.length + second.length);
    System.arraycopy(second, 0, joined, first.length, second.length);
    return joined;
  }

  /** What a connection shows, as a row of words. */
  public static String describe(Unit unit) {
    return unit.facts()
        .map(
            fact ->
                fact.field().word()
                    + (fact.header().isEmpty() ? "" : " " + fact.header())
                    + " "
                    + (fact.field().kind() == Field.Kind.BYTES ? hex(fact.value()) : fact.text()))
        .collect(Collectors.joining(", "));
  }

  /** Bytes as digits; a long row of zeros by its length. */
  private static String hex(byte[] bytes) {
    String all = java.util.HexFormat.ofDelimiter(" ").formatHex(bytes);
    return java.util.regex.Pattern.compile("(?:00 ){8,}")
        .matcher(all)
        .replaceAll(zeros -> "(" + zeros.group().length() / 3 + " times 00) ");
  }
}
