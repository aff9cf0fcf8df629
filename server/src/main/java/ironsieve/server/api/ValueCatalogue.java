package ironsieve.server.api;

import ironsieve.files.Contents;
import ironsieve.files.DocumentWriter;
import ironsieve.files.Documents.SetDoc;
import ironsieve.model.Application;
import ironsieve.model.Directory;
import ironsieve.model.Environment;
import ironsieve.model.ValueKind;
import ironsieve.model.Zone;
import ironsieve.region.Address;
import ironsieve.region.Range;
import ironsieve.text.NetworkText;
import ironsieve.text.TextException;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** The values a field can be given: what there is, what is used already, and what was typed. */
final class ValueCatalogue {

  /**
   * A value to choose.
   *
   * @param value as a field takes it
   * @param kind what it is, in a word
   * @param detail a few words about it
   */
  record Choice(String value, String kind, String detail) {}

  private final Contents contents;
  private final Environment environment;

  ValueCatalogue(Contents contents, Environment environment) {
    this.contents = contents;
    this.environment = environment;
  }

  /** The choices that fit what was typed, the closest first. */
  List<Choice> choices(ValueKind kind, String typed, int most) {
    String wanted = typed.trim().toLowerCase(Locale.ROOT);
    List<Choice> fitting =
        all(kind, typed.stripLeading())
            .filter(choice -> rank(choice, wanted) < 4)
            .sorted(Comparator.comparingInt(choice -> rank(choice, wanted)))
            .limit(most)
            .collect(Collectors.toCollection(ArrayList::new));
    spelledOut(kind, typed.trim())
        .filter(choice -> fitting.stream().noneMatch(c -> c.value().equals(choice.value())))
        .forEach(choice -> fitting.add(0, choice));
    return fitting;
  }

  private static int rank(Choice choice, String wanted) {
    String bare = bare(choice).toLowerCase(Locale.ROOT);
    if (bare.equals(wanted)) {
      return 0;
    }
    if (bare.startsWith(wanted)) {
      return 1;
    }
    if (choice.value().toLowerCase(Locale.ROOT).contains(wanted)) {
      return 2;
    }
    return choice.detail().toLowerCase(Locale.ROOT).contains(wanted) ? 3 : 4;
  }

  private static String bare(Choice choice) {
    String prefix = choice.kind() + " ";
    return choice.value().startsWith(prefix)
        ? choice.value().substring(prefix.length())
        : choice.value();
  }

  /** What was typed, if it spells a value out. */
  private Stream<Choice> spelledOut(ValueKind kind, String typed) {
    boolean spells =
        kind == ValueKind.NETWORK
            || kind == ValueKind.SERVICE
            || kind == ValueKind.TIME
            || kind == ValueKind.SITE
            || (kind == ValueKind.PERSON && typed.contains("="))
            || (kind == ValueKind.APPLICATION && typed.startsWith("where "));
    if (!spells || typed.isEmpty() || typed.startsWith("set ")) {
      return Stream.empty();
    }
    try {
      return Stream.of(
          new Choice(ValueText.print(ValueText.parse(kind, typed)), kind.word(), "as typed"));
    } catch (TextException e) {
      return Stream.empty();
    }
  }

  private Stream<Choice> all(ValueKind kind, String typed) {
    return Stream.concat(
        sets(kind),
        switch (kind) {
          case ZONE -> environment.zones().stream().map(ValueCatalogue::zone);
          case PERSON -> people();
          case DEVICE -> devices();
          case APPLICATION -> applications(typed);
          case NETWORK -> Stream.concat(used(kind), places());
          case SITE -> sites();
          case SERVICE, TIME -> used(kind);
        });
  }

  private Stream<Choice> sets(ValueKind kind) {
    return setsOf(kind).map(set -> new Choice("set " + set.name(), "set", firstOf(set)));
  }

  /**
   * The rulebase's own sets of a kind, then those that all share of which it has none of its own.
   */
  private Stream<SetDoc> setsOf(ValueKind kind) {
    return Stream.concat(
            contents.setsInOrder().stream(),
            environment.sets().stream()
                .map(DocumentWriter::set)
                .filter(set -> !contents.sets().containsKey(set.id())))
        .filter(set -> set.kind().equals(kind.word()));
  }

  private static String firstOf(SetDoc set) {
    return set.values().stream().limit(3).collect(Collectors.joining(", "))
        + (set.values().size() > 3 ? " … " + set.values().size() : "");
  }

  private static Choice zone(Zone zone) {
    return new Choice(zone.name(), "zone", zone.note());
  }

  /** Countries, address lists and host names that stand for addresses. */
  private Stream<Choice> places() {
    return Stream.of(
            environment.atlas().countries().keySet().stream()
                .sorted()
                .map(code -> new Choice("country " + code, "country", "")),
            environment.atlas().lists().entrySet().stream()
                .map(
                    entry ->
                        new Choice(
                            "list " + entry.getKey(),
                            "list",
                            entry.getValue().size() + " networks, fed from outside")),
            environment.atlas().hosts().entrySet().stream()
                .sorted(java.util.Map.Entry.comparingByKey())
                .map(
                    entry ->
                        new Choice(
                            "host " + entry.getKey(),
                            "host",
                            entry.getValue().stream()
                                .map(Object::toString)
                                .collect(Collectors.joining(", ")))))
        .flatMap(stream -> stream);
  }

  private Stream<Choice> sites() {
    return Stream.of(
            environment.atlas().siteCategories().stream()
                .map(name -> new Choice("category " + name, "category", "")),
            environment.atlas().sites().stream()
                .map(entry -> new Choice(ValueText.print(entry.names()), "site", entry.category())),
            Stream.of(
                new Choice("no host name", "anything", "the connection asks for no host name")))
        .flatMap(stream -> stream);
  }

  private Stream<Choice> people() {
    Directory directory = environment.directory();
    Stream<Choice> any =
        Stream.of(
            new Choice("identified", "anyone", "everybody the directory knows"),
            new Choice("unidentified", "anyone", "nobody the directory knows"));
    Stream<Choice> groups =
        directory.groups().stream()
            .map(group -> new Choice("group " + group.name(), "group", group.note()));
    Stream<Choice> people =
        directory.people().stream()
            .map(person -> new Choice(person.login(), "person", person.name()));
    Stream<Choice> attributes =
        directory.people().stream()
            .flatMap(
                person ->
                    person.attributes().entrySet().stream()
                        .map(entry -> entry.getKey() + "=" + entry.getValue()))
            .distinct()
            .sorted()
            .map(text -> new Choice(text, "attribute", "everybody of whom the directory says so"));
    return Stream.of(any, groups, people, attributes).flatMap(stream -> stream);
  }

  private Stream<Choice> devices() {
    List<Choice> all = new ArrayList<>();
    List<String> kinds = new ArrayList<>(environment.deviceKinds());
    kinds.add("unknown");
    kinds.forEach(kind -> all.add(new Choice(kind, "device", "in any state")));
    kinds.add(0, "any device");
    for (String posture : List.of("healthy", "unhealthy")) {
      kinds.forEach(kind -> all.add(new Choice(kind + ", " + posture, "posture", "")));
    }
    return all.stream();
  }

  private static final Pattern BUT_NOT =
      Pattern.compile("((category|family) (.+?) but not (?:.+ nor )?)[^/]*");

  /** Applications that can be left out of the category or family that is being written. */
  private Stream<Choice> exceptions(Matcher begun) {
    boolean isCategory = begun.group(2).equals("category");
    return environment.catalogue().applications().stream()
        .filter(
            a ->
                (isCategory ? a.grouping().category() : a.grouping().family())
                    .equals(begun.group(3)))
        .map(a -> new Choice(begun.group(1) + a.name(), begun.group(2), "all of it but these"));
  }

  private Stream<Choice> applications(String typed) {
    Matcher begun = BUT_NOT.matcher(typed);
    if (begun.matches()) {
      return exceptions(begun);
    }
    List<Application> all = environment.catalogue().applications();
    Set<String> categories = new LinkedHashSet<>();
    Set<String> families = new LinkedHashSet<>();
    for (Application application : all) {
      categories.add(application.grouping().category());
      families.add(application.grouping().family());
    }
    families.remove("");
    Stream<Choice> names =
        all.stream().map(a -> new Choice(a.name(), "application", a.grouping().category()));
    // Features would drown the applications; they come once something is typed.
    Stream<Choice> features =
        typed.isEmpty()
            ? Stream.empty()
            : all.stream()
                .flatMap(
                    a ->
                        a.features().stream()
                            .map(f -> new Choice(a.name() + "/" + f, "feature", "")));
    return Stream.of(
            categories.stream().map(c -> new Choice("category " + c, "category", "")),
            families.stream().map(f -> new Choice("family " + f, "family", "")),
            names,
            features,
            Stream.of(new Choice("unidentified", "anything", "no application recognised")))
        .flatMap(stream -> stream);
  }

  /** Values that some rule or set uses already. */
  private Stream<Choice> used(ValueKind kind) {
    Set<String> values = new LinkedHashSet<>();
    contents
        .setsInOrder()
        .forEach(
            set -> {
              if (set.kind().equals(kind.word())) {
                values.addAll(set.values());
              }
            });
    contents
        .rules()
        .values()
        .forEach(
            rule ->
                rule.fields()
                    .forEach(
                        (key, field) -> {
                          if (ironsieve.model.FieldName.ofKey(key).kind() == kind) {
                            values.addAll(field.values());
                          }
                        }));
    return values.stream()
        .filter(value -> !value.startsWith("set "))
        .map(value -> new Choice(value, kind.word(), "used here"));
  }

  /** What a value stands for, as lines to read. */
  List<String> about(ValueKind kind, String value) {
    if (value.startsWith("set ")) {
      return setsOf(kind)
          .filter(set -> set.name().equals(value.substring(4)))
          .findFirst()
          .map(set -> lines(set.note(), set.values()))
          .orElse(List.of("There is no such set."));
    }
    return switch (kind) {
      case ZONE ->
          environment.zones().stream()
              .filter(zone -> zone.name().equals(value))
              .findFirst()
              .map(zone -> lines(zone.note(), networks(zone)))
              .orElse(List.of());
      case PERSON -> person(value);
      case APPLICATION -> application(value);
      case NETWORK -> place(value);
      default -> List.of();
    };
  }

  /** The first addresses of a country, a list or a host name. */
  private List<String> place(String value) {
    if (value.startsWith("host ")) {
      return Optional.ofNullable(environment.atlas().hosts().get(value.substring(5)))
          .map(all -> lines("", all.stream().map(Object::toString).toList()))
          .orElse(List.of("nothing is known of it"));
    }
    Map<String, List<Range<Address>>> known =
        value.startsWith("list ")
            ? environment.atlas().lists()
            : value.startsWith("country ") ? environment.atlas().countries() : Map.of();
    return Optional.ofNullable(known.get(value.substring(value.indexOf(' ') + 1)))
        .map(ranges -> firstOf(ranges.stream().map(NetworkText::print).toList()))
        .orElse(List.of());
  }

  private static List<String> firstOf(List<String> all) {
    List<String> lines = new ArrayList<>();
    lines.add(all.size() == 1 ? "1 network" : all.size() + " networks");
    lines.addAll(all.stream().limit(8).toList());
    if (all.size() > 8) {
      lines.add("… and " + (all.size() - 8) + " more");
    }
    return lines;
  }

  private static List<String> networks(Zone zone) {
    return zone.networks().isEmpty()
        ? List.of("everything behind no other zone")
        : zone.networks().stream().map(NetworkText::print).toList();
  }

  private static List<String> lines(String note, List<String> values) {
    List<String> lines = new ArrayList<>();
    if (!note.isEmpty()) {
      lines.add(note);
    }
    lines.addAll(values.isEmpty() ? List.of("holds nothing") : values);
    return lines;
  }

  private List<String> person(String value) {
    Directory directory = environment.directory();
    if (value.startsWith("group ")) {
      String group = value.substring(6);
      List<String> members = directory.members(group);
      List<String> lines = new ArrayList<>();
      directory
          .group(group)
          .map(Directory.Group::note)
          .filter(n -> !n.isEmpty())
          .ifPresent(lines::add);
      lines.add(members.size() == 1 ? "1 person" : members.size() + " people");
      lines.addAll(members.stream().limit(8).toList());
      if (members.size() > 8) {
        lines.add("… and " + (members.size() - 8) + " more");
      }
      return lines;
    }
    return directory
        .person(value)
        .map(
            person ->
                Stream.concat(
                        Stream.of(person.name(), "in " + String.join(", ", person.groups())),
                        person.attributes().entrySet().stream()
                            .map(entry -> entry.getKey() + ": " + entry.getValue()))
                    .toList())
        .orElse(List.of());
  }

  private List<String> application(String value) {
    if (value.startsWith("category ") || value.startsWith("family ")) {
      String name = value.substring(value.indexOf(' ') + 1);
      List<Application> inside =
          value.startsWith("category ")
              ? environment.catalogue().category(name)
              : environment.catalogue().family(name);
      List<String> lines = new ArrayList<>();
      lines.add(inside.size() + " applications");
      inside.stream().limit(8).map(Application::name).forEach(lines::add);
      if (inside.size() > 8) {
        lines.add("… and " + (inside.size() - 8) + " more");
      }
      return lines;
    }
    String name = value.contains("/") ? value.substring(0, value.indexOf('/')) : value;
    return environment.catalogue().application(name).map(ValueCatalogue::about).orElse(List.of());
  }

  private static List<String> about(Application a) {
    List<String> lines = new ArrayList<>();
    lines.add(a.description());
    lines.add(
        a.grouping().category()
            + " · exposure "
            + Views.word(a.worth().exposure())
            + " · work value "
            + Views.word(a.worth().workValue()));
    String ports =
        a.wiring().usualPorts().stream().map(ValueText::print).collect(Collectors.joining(", "));
    lines.add("usual ports " + (ports.isEmpty() ? "any" : ports));
    if (!a.wiring().ridesOn().isEmpty()) {
      lines.add("rides on " + String.join(", ", a.wiring().ridesOn()));
    }
    if (!a.wiring().needs().isEmpty()) {
      lines.add("needs " + String.join(", ", a.wiring().needs()));
    }
    if (!a.features().isEmpty()) {
      lines.add("features " + String.join(", ", a.features()));
    }
    return lines;
  }
}
