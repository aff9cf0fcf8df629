package ironsieve.traffic.signature;

import static org.assertj.core.api.Assertions.assertThat;

import ironsieve.model.Service;
import ironsieve.region.Address;
import ironsieve.text.TextException;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Fact;
import ironsieve.traffic.protocol.Field;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;

/**
 * The matcher against trying every signature on every connection, one after the other, by what the
 * words of the language mean: written on texts, without the product's tests of values.
 */
class MatcherAgreesTest {

  private static final String[] NAMES = {
    "a.example", "b.a.example", "c.b.a.example", "d.example", "a.example.other", "xa.example"
  };
  private static final String[] WORDS = {"GET", "POST", "h2", "http/1.1", "1.3"};
  private static final String[] TEXTS = {"/up", "/up/load", "load", "/", "abc", "/abc.zip", ".zip"};
  private static final Field[] FIELDS = {
    Field.SERVER_NAME,
    Field.HOST,
    Field.PATH,
    Field.METHOD,
    Field.ALPN,
    Field.CLIENT_BYTES,
    Field.PORT,
    Field.HEADER,
    Field.CLIENT_SIZES
  };

  /** A term as text, with what it means. */
  private record Meaning(String text, java.util.function.Predicate<Facts> holds) {}

  /** What a connection shows, as text. */
  private record Facts(
      Map<Field, List<String>> connection,
      Map<Field, List<String>> request,
      int port,
      int[] sizes) {
    private boolean any(Field field, java.util.function.Predicate<String> test) {
      return java.util.stream.Stream.concat(
              connection.getOrDefault(field, List.of()).stream(),
              request.getOrDefault(field, List.of()).stream())
          .anyMatch(test);
    }
  }

  @Property(tries = 3000)
  void theSameSignaturesFit(@ForAll long seed) {
    Random random = new Random(seed);
    List<Signature> signatures = new ArrayList<>();
    List<Meaning> meanings = new ArrayList<>();
    int wanted = 1 + random.nextInt(12);
    while (signatures.size() < wanted) {
      Meaning meaning = condition(random, 2);
      try {
        signatures.add(
            SignatureText.parse("app" + signatures.size(), random.nextInt(4) == 0, meaning.text()));
        meanings.add(meaning);
      } catch (TextException e) {
        // Asks for nothing that must be there.
      }
    }
    SignatureMatcher.Run run = new SignatureMatcher(signatures, Map.of()).run();
    for (int i = 0; i < 8; i++) {
      Facts facts = facts(random);
      Set<String> expected = new TreeSet<>();
      for (int s = 0; s < meanings.size(); s++) {
        if (meanings.get(s).holds().test(facts)) {
          expected.add("app" + s);
        }
      }
      Unit unit = unit(facts);
      Set<String> found = new TreeSet<>();
      run.all(unit).forEach(match -> found.add(match.application()));
      assertThat(found).as(signatures + " on " + facts).isEqualTo(expected);
      List<SignatureMatcher.Match> best = run.one(unit);
      assertThat(best.isEmpty()).isEqualTo(expected.isEmpty());
      best.forEach(match -> assertThat(expected).contains(match.application()));
      // What is own goes before what is an edition's.
      boolean anyOwn =
          signatures.stream().anyMatch(one -> one.isOwn() && expected.contains(one.application()));
      best.forEach(match -> assertThat(match.signature().isOwn()).isEqualTo(anyOwn));
    }
  }

  @Property(tries = 1000)
  void whatIsPrintedIsReadAsTheSame(@ForAll long seed) {
    Random random = new Random(seed);
    try {
      Signature signature = SignatureText.parse("a", false, condition(random, 3).text());
      String text = SignatureText.print(signature);
      assertThat(SignatureText.print(SignatureText.parse("a", false, text))).isEqualTo(text);
    } catch (TextException e) {
      assertThat(e.getMessage()).isNotBlank();
    }
  }

  private static Meaning condition(Random random, int depth) {
    int kind = depth == 0 ? 0 : random.nextInt(5);
    if (kind < 2) {
      return term(random);
    }
    if (kind == 4) {
      Meaning inside = condition(random, depth - 1);
      return new Meaning("not (" + inside.text() + ")", facts -> !inside.holds().test(facts));
    }
    Meaning first = condition(random, depth - 1);
    Meaning second = condition(random, depth - 1);
    return kind == 2
        ? new Meaning(
            "(" + first.text() + ") and (" + second.text() + ")",
            facts -> first.holds().test(facts) && second.holds().test(facts))
        : new Meaning(
            "(" + first.text() + " or " + second.text() + ")",
            facts -> first.holds().test(facts) || second.holds().test(facts));
  }

  private static Meaning term(Random random) {
    Field field = FIELDS[random.nextInt(FIELDS.length)];
    switch (field) {
      case PORT:
        int low = 440 + random.nextInt(6);
        return new Meaning(
            "port tcp/" + low + "-" + (low + 2),
            facts -> facts.port() >= low && facts.port() <= low + 2);
      case CLIENT_SIZES:
        int number = 1 + random.nextInt(3);
        int from = random.nextInt(40);
        return new Meaning(
            "client sizes " + number + " in " + from + ".." + (from + 15),
            facts ->
                number <= facts.sizes().length
                    && facts.sizes()[number - 1] >= from
                    && facts.sizes()[number - 1] <= from + 15);
      case METHOD, ALPN:
        String word = WORDS[random.nextInt(WORDS.length)];
        String kept = field == Field.METHOD ? word.toUpperCase(java.util.Locale.ROOT) : word;
        return new Meaning(field.word() + " is " + word, facts -> facts.any(field, kept::equals));
      case SERVER_NAME, HOST:
        return name(random, field);
      default:
        return text(random, field);
    }
  }

  private static Meaning name(Random random, Field field) {
    String one = NAMES[random.nextInt(NAMES.length)];
    String other = NAMES[random.nextInt(NAMES.length)];
    if (random.nextBoolean()) {
      return new Meaning(
          field.word() + " is " + one + ", " + other,
          facts -> facts.any(field, name -> name.equals(one) || name.equals(other)));
    }
    return new Meaning(
        field.word() + " under " + one,
        facts -> facts.any(field, name -> name.equals(one) || name.endsWith("." + one)));
  }

  private static Meaning text(Random random, Field field) {
    String value = TEXTS[random.nextInt(TEXTS.length)];
    String of = field.word() + (field == Field.HEADER ? " X-Kind" : "");
    String quoted = " \"" + value + "\"";
    switch (random.nextInt(5)) {
      case 0:
        return new Meaning(
            of + " starts" + quoted, facts -> facts.any(field, text -> text.startsWith(value)));
      case 1:
        return new Meaning(
            of + " ends" + quoted, facts -> facts.any(field, text -> text.endsWith(value)));
      case 2:
        return new Meaning(
            of + " contains" + quoted, facts -> facts.any(field, text -> text.contains(value)));
      case 3:
        // Three letters that are always there, and a class and a repetition around them.
        return new Meaning(
            of + " matches /^[a-z\\/]*load(ing)?$/",
            facts -> facts.any(field, text -> text.matches("[a-z/]*load(ing)?")));
      default:
        if (field == Field.CLIENT_BYTES) {
          int at = random.nextInt(3);
          return new Meaning(
              of + " at " + at + " is hex \"6?\"",
              facts ->
                  facts.any(field, text -> text.length() > at && (text.charAt(at) & 0xF0) == 0x60));
        }
        return new Meaning(of + " is" + quoted, facts -> facts.any(field, value::equals));
    }
  }

  private static Facts facts(Random random) {
    Map<Field, List<String>> connection = new java.util.EnumMap<>(Field.class);
    Map<Field, List<String>> request = new java.util.EnumMap<>(Field.class);
    for (Field field : FIELDS) {
      if (random.nextInt(3) == 0 || field.kind() == Field.Kind.NUMBER) {
        continue;
      }
      String value =
          switch (field.kind()) {
            case NAME -> NAMES[random.nextInt(NAMES.length)];
            case WORD -> WORDS[random.nextInt(WORDS.length)];
            default -> TEXTS[random.nextInt(TEXTS.length)] + TEXTS[random.nextInt(TEXTS.length)];
          };
      (Witness.isOfRequest(field) ? request : connection).put(field, List.of(value));
    }
    int[] sizes = random.ints(random.nextInt(4), 0, 60).toArray();
    return new Facts(connection, request, 440 + random.nextInt(10), sizes);
  }

  private static Unit unit(Facts facts) {
    ConnectionFacts shown =
        new ConnectionFacts(new Service(Service.TCP, facts.port()), Address.parse("203.0.113.10"));
    facts
        .connection()
        .forEach((field, values) -> values.forEach(value -> shown.add(fact(field, value))));
    for (int size : facts.sizes()) {
      shown.sized(true, size);
    }
    List<Fact> request = new ArrayList<>();
    facts
        .request()
        .forEach((field, values) -> values.forEach(value -> request.add(fact(field, value))));
    return new Unit(shown, request);
  }

  private static Fact fact(Field field, String value) {
    return field == Field.HEADER ? Fact.header("X-Kind", value) : Fact.of(field, value);
  }
}
