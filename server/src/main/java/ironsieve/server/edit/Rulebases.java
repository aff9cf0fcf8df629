package ironsieve.server.edit;

import ironsieve.compile.Check;
import ironsieve.compile.CompiledRulebase;
import ironsieve.compile.Names;
import ironsieve.compile.Problem;
import ironsieve.files.Contents;
import ironsieve.files.DocumentWriter;
import ironsieve.files.FaultException;
import ironsieve.files.ForeignCsv;
import ironsieve.files.NameMapping;
import ironsieve.files.OwnWords;
import ironsieve.files.RecordKind;
import ironsieve.files.RulebaseFormat;
import ironsieve.model.Chapter;
import ironsieve.model.Environment;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Service;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.model.Zone;
import ironsieve.progress.Progress;
import ironsieve.server.store.Company;
import ironsieve.server.store.RulebaseStore;
import ironsieve.server.store.Sql;
import ironsieve.server.store.WorkspaceStore.RulebaseDoc;
import ironsieve.text.Nearest;
import ironsieve.text.ValueText;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.text.Normalizer;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Makes, copies, brings in, renames, archives and removes rulebases. */
@ApplicationScoped
public class Rulebases {

  private static final int MOST_NEAR = 5;
  private static final int MOST_ID = 60;
  private static final int MOST_RULEBASES = 1_000;

  @Inject Sql sql;
  @Inject RulebaseStore store;
  @Inject Company company;
  @Inject WorkspaceWriter workspace;
  @Inject Editor editor;

  /** Where a new rulebase comes from. */
  public sealed interface Source {

    /** A few rules to begin with. */
    record Nothing() implements Source {}

    /** Another rulebase, as it is now. */
    record Copy(String rulebase) implements Source {}

    /**
     * A file.
     *
     * @param format the word of a {@link RulebaseFormat}
     * @param choices what to do with names that stand for nothing here; those not chosen stay
     */
    record File(String format, String text, List<Choice> choices) implements Source {}

    /**
     * A spreadsheet of rules.
     *
     * @param columns what some columns hold; the others are guessed
     * @param verdicts further words for verdicts, in lower case
     * @param choices as for a file
     */
    record Sheet(
        String text,
        Map<String, ForeignCsv.Target> columns,
        Map<String, Verdict> verdicts,
        List<Choice> choices)
        implements Source {}
  }

  /**
   * What to do with a name that stands for nothing here.
   *
   * @param kind the kind of value it is
   * @param value as it is written
   * @param other what to put in its place; nothing to leave it out
   */
  public record Choice(ValueKind kind, String value, Optional<String> other) {}

  /**
   * A name that stands for nothing here.
   *
   * @param kind the kind of value it is
   * @param value as it is written
   * @param why what is missing
   * @param places the rules, sets and sheets that use it, such as {@code rule web}
   * @param near what may have been meant, the nearest first
   */
  public record Unknown(
      ValueKind kind, String value, String why, List<String> places, List<String> near) {}

  /**
   * A rulebase that could be made.
   *
   * @param compiled names that stand for nothing match nothing in it
   * @param unknown all of them
   * @param sheet how a spreadsheet was read, if it is from one
   */
  public record Prepared(
      CompiledRulebase compiled, List<Unknown> unknown, Optional<ForeignCsv.Read> sheet) {}

  /**
   * What a new rulebase would be; nothing is written.
   *
   * @throws FaultException naming line and column of what cannot be read
   */
  public Prepared prepare(String name, Source source) {
    Environment environment = company.environment();
    Optional<ForeignCsv.Read> sheet =
        source instanceof Source.Sheet from
            ? Optional.of(
                ForeignCsv.read(
                    name.isBlank() ? "Brought in" : name,
                    from.text(),
                    from.columns(),
                    from.verdicts(),
                    OwnWords.of(environment)))
            : Optional.empty();
    Rulebase rulebase =
        sheet
            .map(read -> mapping(((Source.Sheet) source).choices()).of(read.rulebase()))
            .orElseGet(() -> rulebase(name, source, environment));
    Names names = new Names(rulebase.parts(), environment);
    List<Problem> broken = Check.broken(rulebase, names);
    if (!broken.isEmpty()) {
      Problem first = broken.get(0);
      throw new FaultException(first.place() + " " + first.id(), first.field(), first.message());
    }
    return new Prepared(
        CompiledRulebase.asFarAsKnown(rulebase, environment),
        unknown(Check.problems(rulebase, names), environment),
        sheet);
  }

  private Rulebase rulebase(String name, Source source, Environment environment) {
    if (source instanceof Source.Copy copy) {
      return renamed(editor.snapshot(copy.rulebase()).compiled().rulebase(), name);
    }
    if (source instanceof Source.File file) {
      Rulebase read = RulebaseFormat.ofWord(file.format()).demand(name, file.text()).rulebase();
      return renamed(mapping(file.choices()).of(read), name.isBlank() ? read.name() : name);
    }
    return beginning(name, environment);
  }

  private static Rulebase renamed(Rulebase rulebase, String name) {
    return new Rulebase(name, rulebase.chapters(), rulebase.parts(), rulebase.defaultVerdict());
  }

  private static NameMapping mapping(List<Choice> choices) {
    Map<NameMapping.Named, Optional<Value>> mapped = new HashMap<>();
    for (Choice choice : choices) {
      mapped.put(
          new NameMapping.Named(choice.kind(), value(choice.kind(), choice.value())),
          choice.other().map(text -> value(choice.kind(), text)));
    }
    return new NameMapping(mapped);
  }

  private static Value value(ValueKind kind, String text) {
    try {
      return ValueText.parse(kind, text);
    } catch (IllegalArgumentException e) {
      throw new FaultException("choice", kind.word(), e.getMessage());
    }
  }

  /**
   * What is asked of somebody who begins: who may reach the gateway. Nothing is let through yet.
   */
  private static Rulebase beginning(String name, Environment environment) {
    List<Value> inside = zones(environment, Zone.Side.INSIDE);
    List<Value> gateway = zones(environment, Zone.Side.GATEWAY);
    List<Rule> rules = new ArrayList<>();
    if (!inside.isEmpty() && !gateway.isEmpty()) {
      Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
      fields.put(FieldName.FROM_ZONES, Field.is(inside.get(0)));
      fields.put(FieldName.TO_ZONES, new Field(Field.Sense.IS, gateway));
      fields.put(
          FieldName.SERVICES,
          new Field(
              Field.Sense.IS,
              List.of(port(new Service(Service.TCP, 22)), port(new Service(Service.TCP, 443)))));
      rules.add(
          new Rule(
              "administration",
              "Administration of the gateway",
              Rule.State.OFF,
              new Rule.Match(fields, Rule.Ports.ANY),
              new Rule.Then(Verdict.ALLOW, Rule.Logging.LOGGED),
              "Say from which machines, and switch it on before anything else."));
    }
    return new Rulebase(
        name,
        List.of(
            new Chapter(
                "gateway",
                "Reaching the gateway",
                "Who may administer it. Rules here stand above all others.",
                rules)),
        List.of(),
        Verdict.DENY);
  }

  private static Value port(Service service) {
    return new Value.ServiceRange(service, service);
  }

  private static List<Value> zones(Environment environment, Zone.Side side) {
    return environment.zones().stream()
        .filter(zone -> zone.side() == side)
        .map(zone -> (Value) new Value.ZoneName(zone.name()))
        .toList();
  }

  private static List<Unknown> unknown(List<Problem> problems, Environment environment) {
    Map<List<Object>, Set<String>> places = new LinkedHashMap<>();
    Map<List<Object>, String> why = new HashMap<>();
    for (Problem problem : problems) {
      if (problem.kind() == Problem.Kind.UNKNOWN_NAME) {
        List<Object> key = List.of(problem.valueKind(), problem.value());
        places
            .computeIfAbsent(key, k -> new LinkedHashSet<>())
            .add(problem.place() + " " + problem.id());
        why.put(key, problem.message());
      }
    }
    List<Unknown> all = new ArrayList<>();
    places.forEach(
        (key, where) -> {
          ValueKind kind = (ValueKind) key.get(0);
          String value = (String) key.get(1);
          all.add(
              new Unknown(
                  kind,
                  value,
                  why.get(key),
                  List.copyOf(where),
                  Nearest.to(value, known(kind, environment), MOST_NEAR)));
        });
    return all;
  }

  /** What a name of a kind may stand for here, as it is written. */
  private static List<String> known(ValueKind kind, Environment environment) {
    List<String> names = new ArrayList<>();
    switch (kind) {
      case ZONE -> environment.zones().forEach(zone -> names.add(zone.name()));
      case NETWORK -> {
        environment.atlas().countries().keySet().forEach(code -> names.add("country " + code));
        environment.atlas().lists().keySet().forEach(list -> names.add("list " + list));
      }
      case PERSON -> {
        environment.directory().people().forEach(person -> names.add(person.login()));
        environment.directory().groups().forEach(group -> names.add("group " + group.name()));
      }
      case DEVICE -> names.addAll(environment.deviceKinds());
      case SITE ->
          environment.atlas().siteCategories().forEach(name -> names.add("category " + name));
      case APPLICATION -> {
        environment.catalogue().applications().forEach(one -> names.add(one.name()));
        environment.catalogue().families().forEach(family -> names.add("family " + family));
        environment.catalogue().categories().forEach(name -> names.add("category " + name));
      }
      case SERVICE, TIME -> {
        // Neither has names but those of sets.
      }
    }
    environment.sets().stream()
        .filter(set -> set.kind() == kind)
        .forEach(set -> names.add("set " + set.name()));
    return names;
  }

  /**
   * Makes a rulebase.
   *
   * @return its id, made from its name
   * @throws FaultException if the name is missing or taken, or something cannot be read
   */
  public String make(String name, Source source, Author author, Progress progress) {
    progress.begin("reading rules", 0);
    Prepared prepared = prepare(name, source);
    Rulebase rulebase = prepared.compiled().rulebase();
    FaultException.demandName("rulebase", "name", rulebase.name(), Limits.NAME);
    author.demandReason();
    progress.begin("saving", 0);
    return workspace.make(
        (tx, id) -> {
          Contents contents = DocumentWriter.contents(id, rulebase);
          if (source instanceof Source.Copy copy) {
            editor
                .snapshot(copy.rulebase())
                .contents()
                .records()
                .get(RecordKind.PROMISE)
                .values()
                .forEach(promise -> contents.put(RecordKind.PROMISE, promise));
          }
          Limits.demand(List.of(), contents);
          store.create(tx, contents);
        },
        taken -> id(rulebase.name(), taken),
        rulebase.name(),
        author,
        what(source, rulebase.name()));
  }

  private static String what(Source source, String name) {
    String how =
        source instanceof Source.Copy copy
            ? " as a copy of " + copy.rulebase()
            : source instanceof Source.Nothing ? "" : " from a file";
    return "made rulebase " + name + how;
  }

  /** An id that can stand in an address: letters without marks, digits and dashes. */
  private static String id(String name, Set<String> taken) {
    if (taken.size() >= MOST_RULEBASES) {
      throw new FaultException(
          "rulebase", "", "there are " + taken.size() + " rulebases already, and no more may be");
    }
    String plain =
        Normalizer.normalize(name, Normalizer.Form.NFD)
            .replaceAll("\\p{M}", "")
            .toLowerCase(Locale.ROOT)
            .replaceAll("[^\\p{L}\\p{Nd}]+", "-")
            .replaceAll("^-|-$", "");
    String begun = plain.isEmpty() ? "rulebase" : plain;
    String base = begun.substring(0, Math.min(MOST_ID, begun.length()));
    String id = base;
    for (int n = 2; taken.contains(id); n++) {
      id = base + "-" + n;
    }
    return id;
  }

  /**
   * Gives a rulebase another name, or another standing.
   *
   * @param standing {@code active}, {@code archived} or {@code removed}
   */
  public void change(
      String id,
      Optional<String> name,
      Optional<String> standing,
      Author author,
      Progress progress) {
    RulebaseDoc before = workspace.rulebase(id).orElseThrow(() -> unknown(id));
    name.ifPresent(text -> FaultException.demandName("rulebase", "name", text, Limits.NAME));
    standing
        .filter(word -> !Set.of("active", "archived", "removed").contains(word))
        .ifPresent(
            word -> {
              throw new FaultException(
                  "rulebase", "standing", "a rulebase is active, archived or removed");
            });
    RulebaseDoc after =
        new RulebaseDoc(name.orElse(before.name()), standing.orElse(before.standing()));
    workspace.rulebase(id, before, after, author, what(before, after), progress);
  }

  private static String what(RulebaseDoc before, RulebaseDoc after) {
    if (before.standing().equals(after.standing())) {
      return "renamed rulebase " + before.name() + " to " + after.name();
    }
    return switch (after.standing()) {
      case "archived" -> "retired rulebase " + after.name();
      case "removed" -> "removed rulebase " + after.name();
      default -> "brought rulebase " + after.name() + " back";
    };
  }

  private UnknownException unknown(String id) {
    return UnknownException.of(
        "rulebase", id, store.all().stream().map(RulebaseStore.Head::id).toList());
  }
}
