package ironsieve.server.store;

import ironsieve.model.Application;
import ironsieve.model.Chapter;
import ironsieve.model.Connection;
import ironsieve.model.Directory;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Promise;
import ironsieve.model.Rule;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import ironsieve.server.store.Documents.ApplicationDoc;
import ironsieve.server.store.Documents.ChapterDoc;
import ironsieve.server.store.Documents.FieldDoc;
import ironsieve.server.store.Documents.GroupDoc;
import ironsieve.server.store.Documents.PersonDoc;
import ironsieve.server.store.Documents.PromiseDoc;
import ironsieve.server.store.Documents.RuleDoc;
import ironsieve.server.store.Documents.SetDoc;
import ironsieve.server.store.Documents.ZoneDoc;
import ironsieve.text.ProbeText;
import ironsieve.text.TextException;
import ironsieve.text.ValueText;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Documents to the core's nouns. Every method throws {@link FaultException} saying what cannot be
 * read, and where.
 */
public final class Nouns {

  /** Where a time lands that does not say its day. */
  private static final LocalDateTime LONG_AGO = LocalDateTime.of(1970, 1, 1, 0, 0);

  private Nouns() {}

  /** A rule. */
  public static Rule rule(RuleDoc doc) {
    String place = "rule " + doc.id();
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    List<Fault> faults = new ArrayList<>();
    if (doc.fields() != null) {
      doc.fields()
          .forEach(
              (key, field) -> {
                try {
                  FieldName name = FieldName.ofKey(key);
                  fields.put(name, field(name, field));
                } catch (IllegalArgumentException e) {
                  faults.add(new Fault(place, key, e.getMessage()));
                }
              });
    }
    if (!faults.isEmpty()) {
      throw new FaultException(faults);
    }
    return new Rule(
        doc.id(),
        orEmpty(doc.name()),
        word(place, "state", Rule.State.class, doc.state(), "on"),
        new Rule.Match(fields, word(place, "ports", Rule.Ports.class, doc.ports(), "any")),
        new Rule.Then(
            word(place, "verdict", Verdict.class, doc.verdict(), "deny"),
            word(place, "logging", Rule.Logging.class, doc.logging(), "log")),
        orEmpty(doc.note()));
  }

  private static Field field(FieldName name, FieldDoc doc) {
    Field.Sense sense =
        switch (doc.sense() == null ? "is" : doc.sense()) {
          case "is" -> Field.Sense.IS;
          case "is not" -> Field.Sense.IS_NOT;
          default ->
              throw new IllegalArgumentException(
                  "a field's sense is \"is\" or \"is not\", not \"" + doc.sense() + "\"");
        };
    return new Field(sense, values(name.kind(), doc.values()));
  }

  private static List<Value> values(ValueKind kind, List<String> texts) {
    return texts == null
        ? List.of()
        : texts.stream().map(text -> ValueText.parse(kind, text)).toList();
  }

  private static String orEmpty(String text) {
    return text == null ? "" : text;
  }

  /** One of an enumeration's words, or another where there is none. */
  private static <E extends Enum<E>> E word(
      String place, String field, Class<E> type, String text, String otherwise) {
    String word = text == null ? otherwise : text;
    for (E candidate : type.getEnumConstants()) {
      if (candidate.name().toLowerCase(Locale.ROOT).equals(word)) {
        return candidate;
      }
    }
    List<String> words =
        java.util.Arrays.stream(type.getEnumConstants())
            .map(c -> c.name().toLowerCase(Locale.ROOT))
            .toList();
    throw new FaultException(
        List.of(
            new Fault(place, field, "\"" + word + "\" is none of " + String.join(", ", words))));
  }

  /** A verdict by its word. */
  public static Verdict verdict(String place, String word) {
    return word(place, "verdict", Verdict.class, word, "deny");
  }

  /** A chapter with these rules. */
  public static Chapter chapter(ChapterDoc doc, List<Rule> rules) {
    return new Chapter(doc.id(), orEmpty(doc.title()), orEmpty(doc.note()), rules);
  }

  /** A named set. */
  public static NamedSet set(SetDoc doc) {
    String place = "set " + doc.name();
    if (doc.name() == null || doc.name().isBlank() || !doc.name().equals(doc.name().trim())) {
      throw new FaultException(
          List.of(new Fault(place, "name", "a set needs a name without spaces around it")));
    }
    try {
      ValueKind kind = ValueKind.ofWord(doc.kind());
      if (kind == ValueKind.ZONE) {
        throw new IllegalArgumentException("zones have no named sets");
      }
      return new NamedSet(doc.name(), kind, values(kind, doc.values()), orEmpty(doc.note()));
    } catch (IllegalArgumentException e) {
      throw new FaultException(List.of(new Fault(place, "values", e.getMessage())));
    }
  }

  /** A promise, whose probe must leave out nothing but who and what is unknown. */
  public static Promise promise(PromiseDoc doc, ProbeText probes) {
    String place = "promise " + doc.name();
    try {
      Connection connection = probes.parse(orEmpty(doc.probe()), LONG_AGO).connection();
      if (connection.at().isBefore(LONG_AGO.plusYears(1))) {
        throw new TextException(0, "a promise says on which day, such as at 2026-11-24 09:30");
      }
      return new Promise(
          doc.id(), connection, verdict(place, doc.verdict()), Optional.ofNullable(doc.catcher()));
    } catch (TextException e) {
      throw new FaultException(place, "probe", e.getMessage());
    }
  }

  /** A zone. */
  public static Zone zone(ZoneDoc doc) {
    return new Zone(
        doc.name(),
        word("zone " + doc.name(), "side", Zone.Side.class, doc.side(), "inside"),
        values(ValueKind.NETWORK, doc.networks()).stream()
            .map(value -> ((Value.Network) value).range())
            .toList(),
        orEmpty(doc.note()));
  }

  /** A directory. */
  public static Directory directory(List<PersonDoc> people, List<GroupDoc> groups) {
    return new Directory(
        people.stream()
            .map(
                doc ->
                    new Directory.Person(
                        doc.login(), doc.name(), new HashSet<>(doc.groups()), doc.attributes()))
            .toList(),
        groups.stream()
            .map(
                doc ->
                    new Directory.Group(
                        doc.name(), new HashSet<>(doc.parents()), orEmpty(doc.note())))
            .toList());
  }

  /** An application. */
  public static Application application(ApplicationDoc doc) {
    String place = "application " + doc.name();
    return new Application(
        doc.name(),
        new Application.Grouping(doc.category(), orEmpty(doc.family()), orEmpty(doc.provider())),
        new Application.Worth(
            word(place, "exposure", Application.Exposure.class, doc.exposure(), "slight"),
            word(place, "workValue", Application.WorkValue.class, doc.workValue(), "none")),
        doc.features(),
        new Application.Wiring(
            values(ValueKind.SERVICE, doc.usualPorts()).stream()
                .map(Value.ServiceRange.class::cast)
                .toList(),
            doc.ridesOn(),
            doc.needs()),
        orEmpty(doc.description()));
  }
}
