package ironsieve.files;

import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.Documents.AtlasDoc;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.DecryptionRuleDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.LaneDoc;
import ironsieve.files.Documents.MetadataDoc;
import ironsieve.files.Documents.NoticeDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.Documents.RatesDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SheetDoc;
import ironsieve.files.Documents.SheetLineDoc;
import ironsieve.files.Documents.ZoneDoc;
import ironsieve.model.Application;
import ironsieve.model.Atlas;
import ironsieve.model.Chapter;
import ironsieve.model.Connection;
import ironsieve.model.DecryptionRule;
import ironsieve.model.Directory;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Lane;
import ironsieve.model.NamedSet;
import ironsieve.model.Notice;
import ironsieve.model.Outcome;
import ironsieve.model.Promise;
import ironsieve.model.Rule;
import ironsieve.model.RuleMetadata;
import ironsieve.model.UsageSheet;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.text.OutcomeText;
import ironsieve.text.ProbeText;
import ironsieve.text.TextException;
import ironsieve.text.ValueText;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Documents to the core's nouns. Every method throws {@link FaultException} saying what cannot be
 * read, and where.
 */
public final class DocumentReader {

  /** Where a time lands that does not say its day. */
  private static final LocalDateTime LONG_AGO = LocalDateTime.of(1970, 1, 1, 0, 0);

  private DocumentReader() {}

  /** A rule. */
  public static Rule rule(RuleDoc doc) {
    String place = "rule " + doc.id();
    Map<FieldName, Field> fields = fields(place, doc.fields());
    return new Rule(
        doc.id(),
        orEmpty(doc.name()),
        word(place, "state", Rule.State.class, doc.state(), "on"),
        new Rule.Match(fields, word(place, "ports", Rule.Ports.class, doc.ports(), "any")),
        then(place, doc),
        metadata(place, doc));
  }

  private static RuleMetadata metadata(String place, RuleDoc doc) {
    MetadataDoc metadata =
        doc.metadata() == null ? new MetadataDoc(null, null, null) : doc.metadata();
    try {
      Optional<LocalDate> reviewBy =
          orEmpty(metadata.reviewBy()).isEmpty()
              ? Optional.empty()
              : Optional.of(LocalDate.parse(metadata.reviewBy()));
      return new RuleMetadata(
          orEmpty(doc.note()), orEmpty(metadata.owner()), orEmpty(metadata.changes()), reviewBy);
    } catch (DateTimeException e) {
      throw new FaultException(
          place, "reviewBy", "\"" + metadata.reviewBy() + "\" is no day; one reads 2027-01-31");
    }
  }

  private static Map<FieldName, Field> fields(String place, Map<String, FieldDoc> docs) {
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    List<Fault> faults = new ArrayList<>();
    if (docs != null) {
      docs.forEach(
          (key, field) -> {
            try {
              FieldName name = FieldName.ofKey(key);
              fields.put(name, field(place, name, field));
            } catch (FaultException e) {
              faults.addAll(e.faults());
            } catch (IllegalArgumentException e) {
              faults.add(new Fault(place, key, e.getMessage()));
            }
          });
    }
    if (!faults.isEmpty()) {
      throw new FaultException(faults);
    }
    return fields;
  }

  private static Rule.Then then(String place, RuleDoc doc) {
    Outcome outcome = outcome(place, doc.verdict() == null ? "deny" : doc.verdict());
    Rule.Logging logging = word(place, "logging", Rule.Logging.class, doc.logging(), "logged");
    try {
      return new Rule.Then(
          outcome, logging, Optional.ofNullable(doc.sheet()).filter(s -> !s.isEmpty()));
    } catch (IllegalArgumentException e) {
      throw new FaultException(place, "sheet", e.getMessage());
    }
  }

  private static Outcome outcome(String place, String text) {
    try {
      return OutcomeText.parse(orEmpty(text));
    } catch (IllegalArgumentException e) {
      throw new FaultException(place, "verdict", e.getMessage());
    }
  }

  /** A usage sheet. */
  public static UsageSheet sheet(SheetDoc doc) {
    String place = "sheet " + named("sheet", doc.name());
    try {
      List<UsageSheet.Line> lines = new ArrayList<>();
      for (SheetLineDoc line : doc.lines() == null ? List.<SheetLineDoc>of() : doc.lines()) {
        lines.add(
            new UsageSheet.Line(
                ValueText.parse(ValueKind.APPLICATION, orEmpty(line.about())),
                outcome(place, line.outcome())));
      }
      return new UsageSheet(
          doc.name(), lines, outcome(place, doc.otherwise()), orEmpty(doc.note()));
    } catch (FaultException e) {
      throw e;
    } catch (IllegalArgumentException e) {
      throw new FaultException(place, "lines", e.getMessage());
    }
  }

  /** A notice. */
  public static Notice notice(NoticeDoc doc) {
    String place = "notice " + named("notice", doc.name());
    try {
      return new Notice(doc.name(), verdict(place, doc.verdict()), orEmpty(doc.text()));
    } catch (FaultException e) {
      throw e;
    } catch (IllegalArgumentException e) {
      throw new FaultException(place, "verdict", e.getMessage());
    }
  }

  /** A lane. */
  public static Lane lane(LaneDoc doc) {
    String place = "lane " + named("lane", doc.name());
    try {
      return new Lane(
          doc.name(),
          word(place, "scope", Lane.Scope.class, doc.scope(), "gateway"),
          rates(doc.ceiling()),
          rates(doc.guarantee()),
          doc.clients(),
          orEmpty(doc.note()));
    } catch (FaultException e) {
      throw e;
    } catch (IllegalArgumentException e) {
      throw new FaultException(place, "guarantee", e.getMessage());
    }
  }

  /** Rates; nothing says nothing. */
  public static Lane.Rates rates(RatesDoc doc) {
    return doc == null ? Lane.Rates.NONE : new Lane.Rates(doc.up(), doc.down());
  }

  /** A decryption rule. */
  public static DecryptionRule decryption(DecryptionRuleDoc doc) {
    String place = "decryption rule " + doc.id();
    try {
      return new DecryptionRule(
          doc.id(),
          new Rule.Match(fields(place, doc.fields()), Rule.Ports.ANY),
          word(place, "decision", DecryptionRule.Decision.class, doc.decision(), "leave encrypted"),
          orEmpty(doc.note()));
    } catch (FaultException e) {
      throw e;
    } catch (IllegalArgumentException e) {
      throw new FaultException(place, "fields", e.getMessage());
    }
  }

  private static String named(String what, String name) {
    if (name == null || name.isBlank() || !name.equals(name.trim())) {
      throw new FaultException(
          what + " " + name, "name", "a " + what + " needs a name without spaces around it");
    }
    return name;
  }

  /** What is known of addresses and host names. */
  public static Atlas atlas(AtlasDoc doc) {
    Map<String, List<Address>> hosts = new java.util.HashMap<>();
    doc.hosts().forEach((host, all) -> hosts.put(host, all.stream().map(Address::parse).toList()));
    return new Atlas(
        ranges(doc.countries()),
        ranges(doc.lists()),
        hosts,
        doc.sites().stream()
            .map(
                entry ->
                    new Atlas.SiteEntry(
                        (Value.HostName) ValueText.parse(ValueKind.SITE, entry.names()),
                        entry.category()))
            .toList());
  }

  private static Map<String, List<Range<Address>>> ranges(Map<String, List<String>> texts) {
    Map<String, List<Range<Address>>> ranges = new java.util.HashMap<>();
    texts.forEach(
        (name, all) ->
            ranges.put(
                name,
                all.stream()
                    .map(text -> ((Value.Network) ValueText.parse(ValueKind.NETWORK, text)).range())
                    .toList()));
    return ranges;
  }

  private static Field field(String place, FieldName name, FieldDoc doc) {
    Field.Sense sense =
        switch (doc.sense() == null ? "is" : doc.sense()) {
          case "is" -> Field.Sense.IS;
          case "is not" -> Field.Sense.IS_NOT;
          default ->
              throw new IllegalArgumentException(
                  "a field's sense is \"is\" or \"is not\", not \"" + doc.sense() + "\"");
        };
    return new Field(sense, values(place, name.key(), name.kind(), doc.values()));
  }

  /**
   * The values of a list.
   *
   * @throws FaultException with every one of them that cannot be read
   */
  private static List<Value> values(
      String place, String field, ValueKind kind, List<String> texts) {
    List<Value> values = new ArrayList<>();
    List<Fault> faults = new ArrayList<>();
    for (String text : texts == null ? List.<String>of() : texts) {
      try {
        values.add(ValueText.parse(kind, text));
      } catch (TextException e) {
        faults.add(new Fault(place, field, e.getMessage(), text));
      }
    }
    if (!faults.isEmpty()) {
      throw new FaultException(faults);
    }
    return values;
  }

  private static String orEmpty(String text) {
    return text == null ? "" : text;
  }

  /** One of an enumeration's words, or another where there is none. */
  private static <E extends Enum<E>> E word(
      String place, String field, Class<E> type, String text, String otherwise) {
    String word = text == null ? otherwise : text;
    for (E candidate : type.getEnumConstants()) {
      if (DocumentWriter.word(candidate).equals(word)) {
        return candidate;
      }
    }
    List<String> words =
        java.util.Arrays.stream(type.getEnumConstants()).map(DocumentWriter::word).toList();
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
    String place = "set " + named("set", doc.name());
    try {
      ValueKind kind = ValueKind.ofWord(doc.kind());
      if (kind == ValueKind.ZONE) {
        throw new IllegalArgumentException("zones have no named sets");
      }
      return new NamedSet(
          doc.name(), kind, values(place, "values", kind, doc.values()), orEmpty(doc.note()));
    } catch (FaultException e) {
      throw e;
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
        values("zone " + doc.name(), "networks", ValueKind.NETWORK, doc.networks()).stream()
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
            word(place, "content", Application.Content.class, doc.content(), "plain"),
            values("application " + doc.name(), "usual ports", ValueKind.SERVICE, doc.usualPorts())
                .stream()
                .map(Value.ServiceRange.class::cast)
                .toList(),
            doc.ridesOn(),
            doc.needs()),
        orEmpty(doc.description()));
  }
}
