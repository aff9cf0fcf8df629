package ironsieve.files;

import ironsieve.model.Chapter;
import ironsieve.model.Field;
import ironsieve.model.FieldName;
import ironsieve.model.NamedSet;
import ironsieve.model.Outcome;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.model.Verdict;
import ironsieve.text.FileTextException;
import ironsieve.text.PlainText;
import ironsieve.text.SourceText;
import ironsieve.text.TextException;
import ironsieve.text.ValueText;
import java.io.IOException;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/**
 * Rules as somebody's spreadsheet has them: a CSV with whatever columns, of which is guessed what
 * they hold. What is not understood is told line by line, and kept in the note of its rule, which
 * is then off: a rule without one of its conditions would match more than it did.
 */
public final class ForeignCsv {

  /** What a column can hold. */
  public enum Target {
    NAME(
        "name",
        "name|rule|rulename|title|id|no|number|nr|regel|regelname|nummer|regle|nom|numero|regla"
            + "|nombre|regula|nazwa|lp"),
    FROM_ZONES(
        "from zones",
        "(source|src|from|ingress)(zones?|interfaces?)|fromzone|zonefrom|quell?zonen?|vonzone"
            + "|zonesource|zoneorigen|zonadeorigen|strefazrodlowa"),
    FROM_NETWORKS(
        "from networks",
        "source|src|from|(source|src|from)(address(es)?|networks?|ips?|hosts?)|origin|quellen?"
            + "|von|quell(adressen?|netze?|ip)|source(adresse|reseau)|origen|direccionorigen"
            + "|zrodlo|adreszrodlowy"),
    PEOPLE(
        "from people",
        "(source|src|from)?(users?|people|persons?|identity|identities|(user)?groups?)|benutzer"
            + "|personen|gruppen?|utilisateurs?|groupes?|usuarios?|grupos?|uzytkownicy|grupy?"),
    TO_ZONES(
        "to zones",
        "(destination|dest|dst|to|egress)(zones?|interfaces?)|tozone|zoneto|zielzonen?|nachzone"
            + "|zonedestination|zonadestino|zonadedestino|strefadocelowa"),
    TO_NETWORKS(
        "to networks",
        "destination|dest|dst|to|(destination|dest|dst|to)(address(es)?|networks?|ips?|hosts?)|target|ziele?"
            + "|nach|ziel(adressen?|netze?|ip)|destino|direcciondestino|cel|adresdocelowy"),
    SERVICES(
        "services",
        "services?|ports?|(destination|dest|dst)ports?|dport|serviceports?|protocolport|dienste?"
            + "|zielports?|servicios?|puertos?|puertodestino|uslugi?|porty"),
    PROTOCOL(
        "protocol of the ports",
        "protocols?|proto|ipprotocol|transport|protokolle?|protocole|protocolo|protokol"),
    APPLICATIONS("applications", "applications?|apps?|anwendung(en)?|aplicacion(es)?|aplikacj[ae]"),
    VERDICT(
        "verdict",
        "action|verdict|policy|decision|permission|access|effect|aktion|entscheidung|accion|akcja"),
    STATE("on or off", OnOffWords.COLUMNS),
    LOGGING(
        "logging",
        "log|logs|logging|logged|track|protokollierung|protokolliert|journal|journalisation"
            + "|registro|registrar|logowanie|rejestrowanie"),
    NOTE(
        "note",
        "notes?|comments?|descriptions?|remarks?|reason|ticket|change|kommentare?|beschreibung"
            + "|bemerkung(en)?|grund|commentaires?|remarques?|comentarios?|descripcion|uwagi|opis"
            + "|komentarz"),
    NOTHING("nothing", "");

    private final String word;
    private final Pattern headers;

    Target(String word, String headers) {
      this.word = word;
      this.headers = Pattern.compile(headers);
    }

    /** What it is called. */
    public String word() {
      return word;
    }

    /** The target with a word, if there is one. */
    public static Optional<Target> ofWord(String word) {
      return Arrays.stream(values()).filter(target -> target.word.equals(word)).findFirst();
    }

    private static Target guess(String header) {
      String plain = OnOffWords.plain(header).replaceAll("[^a-z]", "");
      return Arrays.stream(values())
          .filter(target -> target != NOTHING && target.headers.matcher(plain).matches())
          .findFirst()
          .orElse(NOTHING);
    }
  }

  /**
   * What was read.
   *
   * @param columns the names of the columns, each with what it was taken to hold, in their order
   * @param samples the first lines, cell by cell
   * @param notUnderstood what was not, with its line, such as {@code line 4, service: "x"}
   */
  public record Read(
      Rulebase rulebase,
      Map<String, Target> columns,
      List<List<String>> samples,
      List<String> notUnderstood) {

    public Read {
      samples = List.copyOf(samples);
      notUnderstood = List.copyOf(notUnderstood);
    }
  }

  private static final String NO_VERDICT =
      "line 1: no column says what happens to connections, so every rule is off; say which does";
  private static final int MOST_LINES = 100_000;
  private static final int MOST_SAMPLES = 5;
  private static final int MOST_TOLD = 500;
  private static final int MOST_LETTERS = 200;
  private static final Set<String> ANY =
      Set.of("", "any", "all", "*", "-", "none specified", "any4", "any6", "everything");
  private static final Map<String, Verdict> VERDICTS = new HashMap<>();
  private static final Pattern MASKED =
      Pattern.compile("(\\d+\\.\\d+\\.\\d+\\.\\d+)[ /]+(\\d+\\.\\d+\\.\\d+\\.\\d+)");
  private static final Pattern PORT =
      Pattern.compile(
          "(?:(tcp|udp|sctp)[ /:_-]*)?(\\d{1,5}(?:\\s*-\\s*\\d{1,5})?)(?:[ /:_-]*(tcp|udp|sctp))?");

  /** Services by the names that the registry of port numbers gives them. */
  private static final Map<String, String> SERVICE_NAMES =
      Map.ofEntries(
          Map.entry("http", "tcp/80"),
          Map.entry("https", "tcp/443"),
          Map.entry("ssh", "tcp/22"),
          Map.entry("telnet", "tcp/23"),
          Map.entry("ftp", "tcp/21"),
          Map.entry("smtp", "tcp/25"),
          Map.entry("submission", "tcp/587"),
          Map.entry("imap", "tcp/143"),
          Map.entry("imaps", "tcp/993"),
          Map.entry("pop3", "tcp/110"),
          Map.entry("ntp", "udp/123"),
          Map.entry("snmp", "udp/161"),
          Map.entry("syslog", "udp/514"),
          Map.entry("ldap", "tcp/389"),
          Map.entry("ldaps", "tcp/636"),
          Map.entry("bgp", "tcp/179"),
          Map.entry("tcp", "tcp"),
          Map.entry("udp", "udp"),
          Map.entry("icmp", "icmp"),
          Map.entry("icmpv6", "icmpv6"),
          Map.entry("gre", "ip/47"),
          Map.entry("esp", "ip/50"));

  static {
    for (String word :
        List.of(
            "allow",
            "accept",
            "permit",
            "pass",
            "allowed",
            "yes",
            "erlauben",
            "erlaubt",
            "zulassen",
            "zugelassen",
            "annehmen",
            "autoriser",
            "accepter",
            "permettre",
            "permitir",
            "aceptar",
            "zezwol",
            "zezwalaj",
            "akceptuj")) {
      VERDICTS.put(word, Verdict.ALLOW);
    }
    for (String word :
        List.of(
            "deny",
            "drop",
            "block",
            "discard",
            "denied",
            "blocked",
            "no",
            "verweigern",
            "verweigert",
            "blockieren",
            "sperren",
            "verwerfen",
            "verbieten",
            "bloquer",
            "interdire",
            "bloquear",
            "denegar",
            "descartar",
            "blokuj",
            "odmow",
            "zablokuj",
            "porzuc")) {
      VERDICTS.put(word, Verdict.DENY);
    }
    for (String word :
        List.of(
            "reject",
            "refuse",
            "reset",
            "rejected",
            "ablehnen",
            "abweisen",
            "zuruckweisen",
            "rejeter",
            "refuser",
            "rechazar",
            "odrzuc")) {
      VERDICTS.put(word, Verdict.REJECT);
    }
  }

  private final Map<String, Target> columns;
  private final Map<String, Verdict> verdicts;
  private final OwnWords own;
  private final List<String> notUnderstood = new ArrayList<>();
  private final Map<List<Value>, Integer> lists = new LinkedHashMap<>();

  private ForeignCsv(Map<String, Target> columns, Map<String, Verdict> verdicts, OwnWords own) {
    this.columns = columns;
    this.verdicts = verdicts;
    this.own = own;
  }

  /**
   * Reads rules.
   *
   * @param name what to call the rulebase
   * @param chosen what some columns hold, by name; the others are guessed
   * @param words further words for verdicts, in lower case
   * @param own what names stand for where the rules come to
   * @throws FaultException if it is no CSV with a line of names and one more
   */
  public static Read read(
      String name,
      String text,
      Map<String, Target> chosen,
      Map<String, Verdict> words,
      OwnWords own) {
    List<CSVRecord> lines = lines(text);
    if (lines.size() < 2) {
      throw new FaultException(
          "file", "", "the first line names the columns, and rules follow, one a line");
    }
    Map<String, Target> columns = new LinkedHashMap<>();
    for (String header : lines.get(0)) {
      String column = header.trim();
      if (columns.put(column, chosen.getOrDefault(column, Target.guess(column))) != null) {
        throw new FaultException("file, line 1", column, "two columns have this name");
      }
    }
    ForeignCsv reader = new ForeignCsv(columns, words, own);
    if (!columns.containsValue(Target.VERDICT)) {
      reader.notUnderstood.add(NO_VERDICT);
    }
    List<Rule> rules = new ArrayList<>();
    for (CSVRecord line : lines.subList(1, lines.size())) {
      reader.rule(line, rules.size() + 1).ifPresent(rules::add);
    }
    return new Read(
        reader.withSets(name, rules),
        columns,
        lines.subList(1, Math.min(lines.size(), 1 + MOST_SAMPLES)).stream()
            .map(line -> line.stream().toList())
            .toList(),
        reader.notUnderstood);
  }

  private static List<CSVRecord> lines(String raw) {
    try {
      String text = SourceText.checked(raw);
      CSVFormat format = CSVFormat.RFC4180.builder().setDelimiter(CsvCells.separator(text)).get();
      try (CSVParser parser = CSVParser.parse(new StringReader(text), format)) {
        List<CSVRecord> lines = new ArrayList<>();
        for (CSVRecord line : parser) {
          if (line.stream().anyMatch(cell -> !cell.isBlank())) {
            lines.add(line);
          }
          if (lines.size() > MOST_LINES) {
            throw new FaultException("file", "", "a rulebase has at most " + MOST_LINES + " rules");
          }
        }
        return lines;
      }
    } catch (FileTextException e) {
      throw new FaultException("file", "", e.getMessage());
    } catch (IOException | UncheckedIOException | IllegalStateException e) {
      throw new FaultException("file", "", "this is not CSV: " + e.getMessage());
    }
  }

  private Optional<Rule> rule(CSVRecord line, int number) {
    Map<Target, List<String>> cells = new EnumMap<>(Target.class);
    int column = 0;
    for (Target target : columns.values()) {
      if (column < line.size()) {
        cells.computeIfAbsent(target, t -> new ArrayList<>()).add(line.get(column).trim());
      }
      column++;
    }
    List<String> lost = new ArrayList<>();
    Map<FieldName, Field> fields = new EnumMap<>(FieldName.class);
    field(cells, Target.FROM_ZONES, FieldName.FROM_ZONES, fields, lost);
    field(cells, Target.FROM_NETWORKS, FieldName.FROM_NETWORKS, fields, lost);
    field(cells, Target.PEOPLE, FieldName.PEOPLE, fields, lost);
    field(cells, Target.TO_ZONES, FieldName.TO_ZONES, fields, lost);
    field(cells, Target.TO_NETWORKS, FieldName.TO_NETWORKS, fields, lost);
    field(cells, Target.SERVICES, FieldName.SERVICES, fields, lost);
    if (!fields.containsKey(FieldName.SERVICES)) {
      field(cells, Target.PROTOCOL, FieldName.SERVICES, fields, lost);
    }
    field(cells, Target.APPLICATIONS, FieldName.APPLICATIONS, fields, lost);
    Verdict verdict =
        columns.containsValue(Target.VERDICT)
            ? verdict(first(cells, Target.VERDICT), lost)
            : Verdict.DENY;
    boolean on = isOn(line, lost) && lost.isEmpty() && columns.containsValue(Target.VERDICT);
    lost.stream()
        .limit(Math.max(0, MOST_TOLD - notUnderstood.size()))
        .forEach(what -> notUnderstood.add("line " + line.getRecordNumber() + ", " + what));
    return Optional.of(
        new Rule(
            "r" + number,
            name(called(cells.getOrDefault(Target.NAME, List.of()))),
            on ? Rule.State.ON : Rule.State.OFF,
            new Rule.Match(fields, Rule.Ports.ANY),
            new Rule.Then(
                Outcome.of(verdict),
                OnOffWords.isNo(first(cells, Target.LOGGING))
                    ? Rule.Logging.NOT_LOGGED
                    : Rule.Logging.LOGGED,
                Optional.empty()),
            note(cells, lost)));
  }

  private static String first(Map<Target, List<String>> cells, Target target) {
    return cells.getOrDefault(target, List.of()).stream()
        .filter(cell -> !cell.isBlank())
        .findFirst()
        .orElse("");
  }

  /** Of a number and a name the name: the number says the order, which the lines have. */
  private static String called(List<String> cells) {
    return cells.stream()
        .filter(cell -> cell.chars().anyMatch(Character::isLetter))
        .findFirst()
        .or(() -> cells.stream().filter(cell -> !cell.isBlank()).findFirst())
        .orElse("");
  }

  private static String name(String cell) {
    String plain = cell.replaceAll("\\s+", " ");
    String cut = plain.substring(0, Math.min(MOST_LETTERS, plain.length())).trim();
    return PlainText.nameProblem(cut, MOST_LETTERS).isPresent() ? "" : cut;
  }

  private static String note(Map<Target, List<String>> cells, List<String> lost) {
    List<String> said = new ArrayList<>();
    for (String cell : cells.getOrDefault(Target.NOTE, List.of())) {
      if (!cell.isBlank()) {
        said.add(cell.replaceAll("\\s+", " "));
      }
    }
    if (!lost.isEmpty()) {
      said.add("Off, for this was not understood: " + String.join("; ", lost) + ".");
    }
    return String.join(" ", said);
  }

  /** Whether a rule is on by all columns that say so; a word that is not known is lost. */
  private boolean isOn(CSVRecord line, List<String> lost) {
    boolean isOn = true;
    int column = 0;
    for (Map.Entry<String, Target> entry : columns.entrySet()) {
      if (entry.getValue() == Target.STATE && column < line.size()) {
        String cell = line.get(column).trim();
        Optional<Boolean> said = OnOffWords.isOn(entry.getKey(), cell);
        if (said.isEmpty()) {
          lost.add(entry.getKey() + ": \"" + cell + "\"");
        }
        isOn &= said.orElse(false);
      }
      column++;
    }
    return isOn;
  }

  private Verdict verdict(String cell, List<String> lost) {
    Verdict known =
        verdicts.getOrDefault(cell.toLowerCase(Locale.ROOT), VERDICTS.get(OnOffWords.plain(cell)));
    if (known == null) {
      lost.add("verdict: \"" + cell + "\"");
      return Verdict.DENY;
    }
    return known;
  }

  private void field(
      Map<Target, List<String>> cells,
      Target target,
      FieldName field,
      Map<FieldName, Field> fields,
      List<String> lost) {
    Map<FieldName, Set<Value>> meant = new EnumMap<>(FieldName.class);
    for (String cell : cells.getOrDefault(target, List.of())) {
      for (String item : cell.split("[;,|\\n]")) {
        String text = item.trim();
        if (ANY.contains(text.toLowerCase(Locale.ROOT))) {
          continue;
        }
        try {
          meant(field, text, first(cells, Target.PROTOCOL))
              .forEach((of, values) -> put(meant, of, values));
        } catch (IllegalArgumentException e) {
          lost.add(field.label() + ": \"" + text + "\"");
        }
      }
    }
    // A rule asks for all its fields at once; either one or the other cannot be said in two.
    if (meant.size() > 1 || meant.keySet().stream().anyMatch(fields::containsKey)) {
      lost.add(field.label() + ": names of different kinds, of which a rule can have one");
      return;
    }
    meant.forEach(
        (of, values) -> {
          List<Value> all = List.copyOf(values);
          fields.put(of, new Field(Field.Sense.IS, all));
          if (of.kind() == ValueKind.NETWORK && all.size() > 1) {
            lists.merge(all, 1, Integer::sum);
          }
        });
  }

  private static void put(
      Map<FieldName, Set<Value>> meant, FieldName field, Collection<Value> values) {
    meant.computeIfAbsent(field, of -> new LinkedHashSet<>()).addAll(values);
  }

  /** What a cell says, and of which field: a source may be called by its zone. */
  private Map<FieldName, List<Value>> meant(FieldName field, String text, String protocol) {
    Optional<OwnWords.Meaning> known = own.meaning(field, text);
    try {
      List<Value> values = values(field, text, protocol);
      boolean isWord = values.stream().anyMatch(Value.SetName.class::isInstance);
      if (!isWord || known.isEmpty()) {
        return Map.of(field, values);
      }
    } catch (IllegalArgumentException e) {
      if (known.isEmpty()) {
        throw e;
      }
    }
    return Map.of(known.get().field(), List.of(known.get().value()));
  }

  private static List<Value> values(FieldName field, String text, String protocol) {
    return switch (field.kind()) {
      case NETWORK -> List.of(network(text));
      case SERVICE -> services(text.toLowerCase(Locale.ROOT), protocol.toLowerCase(Locale.ROOT));
      case PERSON -> List.of(person(text));
      case ZONE, DEVICE, SITE, APPLICATION, TIME -> List.of(ValueText.parse(field.kind(), text));
    };
  }

  /** An address in any usual spelling; a name is that of a set. */
  private static Value network(String text) {
    Matcher masked = MASKED.matcher(text);
    if (masked.matches()) {
      return ValueText.parse(ValueKind.NETWORK, masked.group(1) + "/" + length(masked.group(2)));
    }
    try {
      return ValueText.parse(ValueKind.NETWORK, text.replaceAll("\\s*-\\s*", "-"));
    } catch (TextException e) {
      if (text.matches(".*[A-Za-z].*") && !text.contains(":")) {
        return new Value.SetName(text);
      }
      throw e;
    }
  }

  private static int length(String mask) {
    long bits = 0;
    for (String part : mask.split("\\.")) {
      bits = bits << 8 | Integer.parseInt(part);
    }
    int length = Long.bitCount(bits);
    if (bits != (0xFFFFFFFFL << (32 - length) & 0xFFFFFFFFL)) {
      throw new IllegalArgumentException(mask + " is no mask");
    }
    return length;
  }

  private static Value person(String text) {
    String plain = text.replaceFirst("^[^\\\\]*\\\\", "");
    return plain.contains(" ") || plain.startsWith("group ")
        ? new Value.GroupName(plain.replaceFirst("^group ", ""))
        : ValueText.parse(ValueKind.PERSON, plain);
  }

  private static List<Value> services(String text, String protocol) {
    if (text.equals("dns") || text.equals("domain")) {
      return List.of(service("udp/53"), service("tcp/53"));
    }
    String known = SERVICE_NAMES.get(text);
    if (known != null) {
      return List.of(service(known));
    }
    Matcher port = PORT.matcher(text);
    if (!port.matches()) {
      return List.of(ValueText.parse(ValueKind.SERVICE, text));
    }
    String own = port.group(1) == null ? port.group(3) : port.group(1);
    String run = port.group(2).replaceAll("\\s", "");
    List<Value> values = new ArrayList<>();
    String said = own == null ? protocol : own;
    for (String one : said.split("[^a-z]+")) {
      if (List.of("tcp", "udp", "sctp").contains(one)) {
        values.add(service(one + "/" + run));
      }
    }
    // A bare port says nothing of its protocol; most mean TCP, and some both.
    return values.isEmpty() ? List.of(service("tcp/" + run), service("udp/" + run)) : values;
  }

  private static Value service(String text) {
    return ValueText.parse(ValueKind.SERVICE, text);
  }

  /** The same list of addresses in several places becomes a named set. */
  private Rulebase withSets(String name, List<Rule> rules) {
    Map<List<Value>, NamedSet> sets = new LinkedHashMap<>();
    lists.forEach(
        (values, times) -> {
          if (times > 1) {
            String called = "Addresses " + (sets.size() + 1);
            sets.put(
                values,
                new NamedSet(
                    called, ValueKind.NETWORK, values, "The same in " + times + " places"));
          }
        });
    List<Rule> shortened = rules.stream().map(rule -> shortened(rule, sets)).toList();
    return new Rulebase(
        name,
        List.of(new Chapter("c1", "Brought in", "", shortened)),
        List.copyOf(sets.values()),
        Verdict.DENY);
  }

  private static Rule shortened(Rule rule, Map<List<Value>, NamedSet> sets) {
    Rule.Match match = rule.match();
    for (Map.Entry<FieldName, Field> entry : rule.match().fields().entrySet()) {
      NamedSet set = sets.get(entry.getValue().values());
      if (set != null && entry.getKey().kind() == ValueKind.NETWORK) {
        match =
            match.with(
                entry.getKey(),
                new Field(entry.getValue().sense(), List.of(new Value.SetName(set.name()))));
      }
    }
    return new Rule(rule.id(), rule.name(), rule.state(), match, rule.then(), rule.metadata());
  }
}
