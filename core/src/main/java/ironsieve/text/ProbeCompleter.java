package ironsieve.text;

import ironsieve.model.Directory;
import ironsieve.text.ProbeText.Completion;
import ironsieve.text.ProbeText.Completions;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;

/** Says how a probe's sentence can go on. */
final class ProbeCompleter {

  private static final int MOST_CHOICES = 12;

  private final NameIndex names;

  ProbeCompleter(NameIndex names) {
    this.names = names;
  }

  /** Ways to go on at the end of a text that may be unfinished. */
  Completions complete(String text) {
    ProbeReader reader = new ProbeReader(names, text, LocalDateTime.of(2000, 1, 1, 0, 0));
    int from = text.length();
    try {
      reader.all();
      if (!text.isEmpty() && !Character.isWhitespace(text.charAt(text.length() - 1))) {
        from = lastWord(text);
      }
    } catch (TextException e) {
      from = e.position();
    }
    String typed = text.substring(Math.min(from, text.length()));
    List<Completion> choices =
        candidates(reader)
            .filter(choice -> fits(choice, typed))
            .sorted(Comparator.comparing(choice -> rank(choice, typed)))
            .limit(MOST_CHOICES)
            .toList();
    return new Completions(from, choices);
  }

  private static int lastWord(String text) {
    return Math.max(text.lastIndexOf(' '), text.lastIndexOf('/')) + 1;
  }

  private static boolean fits(Completion choice, String typed) {
    String wanted = typed.toLowerCase(Locale.ROOT);
    return choice.text().toLowerCase(Locale.ROOT).contains(wanted)
        || choice.detail().toLowerCase(Locale.ROOT).contains(wanted);
  }

  private static int rank(Completion choice, String typed) {
    boolean begins =
        choice.text().toLowerCase(Locale.ROOT).startsWith(typed.toLowerCase(Locale.ROOT));
    return begins ? 0 : 1;
  }

  private Stream<Completion> candidates(ProbeReader reader) {
    Stream<Completion> words =
        Stream.of(SentencePart.values())
            .filter(part -> !reader.begun().contains(part))
            .map(part -> new Completion(part.word(), "word", ""));
    if (reader.part() == null) {
      return words.filter(word -> word.text().equals("from"));
    }
    return Stream.concat(values(reader), words);
  }

  private Stream<Completion> values(ProbeReader reader) {
    return switch (reader.part()) {
      case FROM -> reader.given().fromZone == null ? zones() : Stream.empty();
      case TO ->
          Stream.concat(
              reader.given().toZone == null ? zones() : Stream.empty(),
              reader.given().host == null ? hosts() : Stream.empty());
      case AS -> reader.given().person == null ? people() : Stream.empty();
      case ON ->
          reader.given().device == null
              ? names.deviceKinds().all().stream().map(kind -> new Completion(kind, "device", ""))
              : Stream.of("healthy", "unhealthy").map(p -> new Completion(p, "posture", ""));
      case USING -> reader.given().use == null ? applications() : features(reader);
      case AT ->
          Stream.of("mon", "tue", "wed", "thu", "fri", "sat", "sun")
              .filter(day -> reader.given().at == null)
              .map(day -> new Completion(day, "day", ""));
    };
  }

  private Stream<Completion> zones() {
    return names.environment().zones().stream()
        .map(zone -> new Completion(zone.name(), "zone", zone.note()));
  }

  private Stream<Completion> hosts() {
    return names.environment().atlas().hosts().keySet().stream()
        .sorted()
        .map(host -> new Completion(host, "host name", names.environment().atlas().category(host)));
  }

  private Stream<Completion> people() {
    return names.environment().directory().people().stream()
        .map(person -> new Completion(person.login(), "person", describe(person)));
  }

  private static String describe(Directory.Person person) {
    return person.name() + " · " + String.join(", ", person.groups());
  }

  private Stream<Completion> applications() {
    return names.environment().catalogue().applications().stream()
        .map(a -> new Completion(a.name(), "application", a.grouping().category()));
  }

  private Stream<Completion> features(ProbeReader reader) {
    List<Completion> features = new ArrayList<>();
    if (reader.endsInSlash() || reader.given().use.feature().isPresent()) {
      reader
          .given()
          .use
          .application()
          .flatMap(names.environment().catalogue()::application)
          .ifPresent(
              a -> a.features().forEach(f -> features.add(new Completion(f, "feature", a.name()))));
    }
    return features.stream();
  }
}
