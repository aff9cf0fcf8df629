package ironsieve.files;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.files.Documents.AddressListDoc;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.Documents.AtlasDoc;
import ironsieve.files.Documents.CountryDoc;
import ironsieve.files.Documents.DeviceKindDoc;
import ironsieve.files.Documents.EditionDoc;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.HostDoc;
import ironsieve.files.Documents.OrganisationDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.files.Documents.ZoneDoc;
import ironsieve.model.Catalogue;
import ironsieve.model.Environment;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.text.FileTextException;
import ironsieve.text.PlainText;
import ironsieve.text.RulebaseReader;
import ironsieve.text.SourceText;
import ironsieve.text.ValueText;
import java.io.IOException;
import java.io.InputStream;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * A company's files: {@code company.json}; {@code directory/}, {@code catalogue/} and {@code
 * atlas/} as CSV after RFC 4180 with lists joined by {@code "; "}; countries as a geofeed after RFC
 * 8805; address lists as plain lines. Every method throws {@link FaultException} naming the file,
 * the line and what would be right.
 */
public final class CompanyFolder {

  /** The longest name of anything in a company. */
  private static final int MOST_LETTERS = 200;

  private static final String PEOPLE = "directory/people.csv";
  private static final String GROUPS = "directory/groups.csv";
  private static final String SETS = "sets.csv";
  private static final String OWN_APPLICATIONS = "catalogue/own.csv";
  private static final String GEOFEED = "atlas/geofeed.csv";
  private static final String HOSTS = "atlas/hosts.csv";
  private static final String SITES = "atlas/sites.csv";
  private static final String SOURCES = "sources.json";
  private static final String NAME = "name";
  private static final String SOURCE = "source";

  private final Function<String, Optional<InputStream>> files;
  private final ObjectMapper json =
      new ObjectMapper().enable(JsonParser.Feature.STRICT_DUPLICATE_DETECTION);

  /**
   * A folder.
   *
   * @param files opens a file by its path inside the folder; nothing where there is none
   */
  public CompanyFolder(Function<String, Optional<InputStream>> files) {
    this.files = files;
  }

  /**
   * The company's own file; {@code lists} names the address lists, {@code edition} the one in
   * force, {@code tapes} the recorded traffic by rulebase, {@code rulebases} their ids, {@code
   * archived} the ids of those that are shown and not edited.
   */
  public record CompanyFile(
      String name,
      int edition,
      List<Integer> editions,
      List<String> deviceKinds,
      List<String> lists,
      Map<String, List<String>> tapes,
      List<String> rulebases,
      List<String> archived,
      List<ZoneDoc> zones) {

    public CompanyFile {
      editions = editions == null ? List.of() : List.copyOf(editions);
      deviceKinds = deviceKinds == null ? List.of() : List.copyOf(deviceKinds);
      lists = lists == null ? List.of() : List.copyOf(lists);
      tapes = tapes == null ? Map.of() : Map.copyOf(tapes);
      rulebases = rulebases == null ? List.of() : List.copyOf(rulebases);
      archived = archived == null ? List.of() : List.copyOf(archived);
    }
  }

  /** The company's own file. */
  public CompanyFile company() {
    CompanyFile read = JsonText.read(json, "company.json", text("company.json"), CompanyFile.class);
    named("company.json", NAME, read.name());
    if (read.zones() == null) {
      throw new FaultException("company.json", "zones", "the list of zones is missing");
    }
    if (!read.editions().isEmpty() && !read.editions().contains(read.edition())) {
      throw new FaultException(
          "company.json",
          "edition",
          "edition "
              + read.edition()
              + " is none of the editions "
              + read.editions()
              + "; the catalogue's file is catalogue/edition-N.csv");
    }
    Once zones = new Once();
    read.zones()
        .forEach(
            zone -> {
              named("company.json", "zones", zone.name());
              zones.add("zone", zone.name(), "company.json", "zones");
              DocumentReader.zone(zone);
            });
    Once kinds = new Once();
    read.deviceKinds()
        .forEach(
            kind -> {
              named("company.json", "deviceKinds", kind);
              kinds.add("kind of device", kind, "company.json", "deviceKinds");
            });
    read.lists().forEach(list -> named("company.json", "lists", list));
    return read;
  }

  private static void named(String place, String field, String name) {
    FaultException.demandName(place, field, name, MOST_LETTERS);
  }

  /** Names that may be there once. */
  private static final class Once {
    private final Set<String> taken = new HashSet<>();

    private void add(String what, String name, String place, String field) {
      if (!taken.add(name)) {
        throw new FaultException(
            place, field, "the " + what + " \"" + name + "\" stands here twice");
      }
    }

    private String add(String what, CsvCells.Row row, String column) {
      String name = row.get(column);
      PlainText.nameProblem(name, MOST_LETTERS)
          .ifPresent(
              problem -> {
                throw row.fault(column, problem);
              });
      if (!taken.add(name)) {
        throw row.fault(column, "the " + what + " \"" + name + "\" stands here twice");
      }
      return name;
    }
  }

  /** Everything a rulebase is read against, with the edition that is in force. */
  public Environment environment(LocalDate today) {
    return workspace().environment(this::catalogue, today);
  }

  /** The same as records. */
  public WorkspaceContents workspace() {
    CompanyFile company = company();
    WorkspaceContents contents = WorkspaceContents.empty();
    contents.put(WorkspaceKind.ORGANISATION, new OrganisationDoc(company.name()));
    contents.put(WorkspaceKind.EDITION, new EditionDoc(company.edition()));
    int place = 0;
    for (ZoneDoc zone : company.zones()) {
      contents.put(WorkspaceKind.ZONE, zone.at(place++));
    }
    place = 0;
    for (String kind : company.deviceKinds()) {
      contents.put(WorkspaceKind.DEVICE_KIND, new DeviceKindDoc(kind, place++));
    }
    groups().forEach(group -> contents.put(WorkspaceKind.GROUP, group));
    people().forEach(person -> contents.put(WorkspaceKind.PERSON, person));
    ownApplications().forEach(own -> contents.put(WorkspaceKind.APPLICATION, own));
    sets().forEach(set -> contents.put(WorkspaceKind.SET, set));
    sources().forEach(source -> contents.put(WorkspaceKind.SOURCE, source));
    AtlasDoc atlas = atlas();
    atlas
        .countries()
        .forEach((code, all) -> contents.put(WorkspaceKind.COUNTRY, new CountryDoc(code, all)));
    atlas
        .lists()
        .forEach(
            (name, all) -> contents.put(WorkspaceKind.ADDRESS_LIST, new AddressListDoc(name, all)));
    atlas.hosts().forEach((host, all) -> contents.put(WorkspaceKind.HOST, new HostDoc(host, all)));
    atlas.sites().forEach(site -> contents.put(WorkspaceKind.SITE, site));
    return contents;
  }

  /** The sets that all rulebases share; none where there is no such file. */
  public List<SetDoc> sets() {
    return optional(SETS)
        .map(text -> CsvCells.rows(SETS, text, CompanyFolder::set))
        .orElse(List.of());
  }

  private static SetDoc set(CsvCells.Row row) {
    SetDoc set =
        new SetDoc(row.get("kind"), row.get(NAME), list(row.get("values")), row.get("note"));
    DocumentReader.set(set);
    return set;
  }

  /** The organisation's own applications; none where there is no such file. */
  public List<ApplicationDoc> ownApplications() {
    return optional(OWN_APPLICATIONS)
        .map(text -> applications(OWN_APPLICATIONS, text))
        .orElse(List.of());
  }

  /** One edition of the catalogue. */
  public Catalogue catalogue(int edition) {
    return new Catalogue(
        edition, applications(edition).stream().map(DocumentReader::application).toList());
  }

  /** The directory's groups. */
  public List<GroupDoc> groups() {
    Once once = new Once();
    Map<String, CsvCells.Row> places = new HashMap<>();
    List<GroupDoc> groups =
        rows(
            GROUPS,
            row -> {
              String name = once.add("group", row, NAME);
              places.put(name, row);
              return new GroupDoc(name, list(row.get("inside")), row.get("note"), source(row));
            });
    for (GroupDoc group : groups) {
      for (String parent : group.parents()) {
        if (!places.containsKey(parent)) {
          throw places.get(group.name()).fault("inside", "there is no group \"" + parent + "\"");
        }
      }
    }
    return groups;
  }

  /** The directory's people. */
  public List<PersonDoc> people() {
    Once once = new Once();
    Set<String> groups = new HashSet<>();
    groups().forEach(group -> groups.add(group.name()));
    return rows(
        PEOPLE,
        row -> {
          String login = once.add("login", row, "login");
          if (!login.equals(login.replaceAll("\\s", ""))) {
            throw row.fault("login", "a login has no spaces, unlike \"" + login + "\"");
          }
          List<String> own = list(row.get("groups"));
          for (String group : own) {
            if (!groups.contains(group)) {
              throw row.fault("groups", "there is no group \"" + group + "\" in " + GROUPS);
            }
          }
          return new PersonDoc(login, row.get(NAME), own, attributes(row), source(row));
        });
  }

  /** Which source brought a record; files from before there were any have no such column. */
  private static String source(CsvCells.Row row) {
    return row.columns().contains(SOURCE) ? row.get(SOURCE) : "";
  }

  private static Map<String, String> attributes(CsvCells.Row row) {
    Map<String, String> attributes = new LinkedHashMap<>();
    for (String pair : list(row.get("attributes"))) {
      String[] parts = pair.split("=", 2);
      if (parts.length < 2 || parts[0].isBlank() || parts[1].isBlank()) {
        throw row.fault(
            "attributes", "\"" + pair + "\" is no attribute, such as home port=Saltmere");
      }
      attributes.put(parts[0], parts[1]);
    }
    return attributes;
  }

  /** The applications of one edition. */
  public List<ApplicationDoc> applications(int edition) {
    String path = "catalogue/edition-" + edition + ".csv";
    return edition == 0 ? List.of() : applications(path, text(path));
  }

  private static List<ApplicationDoc> applications(String path, String text) {
    Once once = new Once();
    return CsvCells.rows(
        path,
        text,
        row -> {
          ApplicationDoc doc =
              new ApplicationDoc(
                  once.add("application", row, NAME),
                  row.get("category"),
                  row.get("family"),
                  row.get("provider"),
                  row.get("exposure"),
                  row.get("work value"),
                  row.get("content"),
                  list(row.get("usual ports")),
                  list(row.get("rides on")),
                  list(row.get("needs")),
                  list(row.get("features")),
                  row.get("description"),
                  row.optional("signatures").stream()
                      .flatMap(String::lines)
                      .filter(line -> !line.isBlank())
                      .toList());
          for (String port : doc.usualPorts()) {
            value(row, "usual ports", ValueKind.SERVICE, port);
          }
          DocumentReader.application(doc);
          return doc;
        });
  }

  private static Value value(CsvCells.Row row, String column, ValueKind kind, String text) {
    try {
      return ValueText.parse(kind, text);
    } catch (IllegalArgumentException e) {
      throw row.fault(column, e.getMessage());
    }
  }

  /** What is known of addresses and host names. */
  public AtlasDoc atlas() {
    Map<String, List<String>> lists = new LinkedHashMap<>();
    for (String name : company().lists()) {
      String path = listPath(name);
      lists.put(name, AtlasFiles.addresses(path, text(path)));
    }
    return new AtlasDoc(
        AtlasFiles.geofeed(GEOFEED, text(GEOFEED)),
        lists,
        AtlasFiles.hosts(HOSTS, text(HOSTS)),
        AtlasFiles.sites(SITES, text(SITES)));
  }

  /** Where some of this is kept current from; none where there is no such file. */
  public List<SourceDoc> sources() {
    return optional(SOURCES)
        .map(text -> List.of(JsonText.read(json, SOURCES, text, SourceDoc[].class)))
        .orElse(List.of());
  }

  /** The promises about a rulebase. */
  public List<PromiseDoc> promises(String rulebase) {
    return rows(
        "rulebases/" + rulebase + ".promises.csv",
        row ->
            new PromiseDoc(
                row.get("id"),
                row.get("group"),
                row.get(NAME),
                row.get("probe"),
                row.get("verdict"),
                row.get("catcher").isEmpty() ? null : row.get("catcher")));
  }

  /** The tapes recorded where a rulebase is in force, by name, as CSV. */
  public Map<String, String> tapes(String rulebase) {
    Map<String, String> tapes = new LinkedHashMap<>();
    company()
        .tapes()
        .getOrDefault(rulebase, List.of())
        .forEach(name -> tapes.put(name, text(tapePath(rulebase, name))));
    return tapes;
  }

  /** Where an address list stands. */
  static String listPath(String name) {
    return "atlas/lists/" + fileName(name) + ".txt";
  }

  /** Where a tape stands. */
  static String tapePath(String rulebase, String name) {
    return "tapes/" + rulebase + "/" + fileName(name) + ".csv";
  }

  /** Where it stands what the connections of a tape showed, if that is kept. */
  public static String samplesPath(String rulebase, String name) {
    return "tapes/" + rulebase + "/" + fileName(name) + ".samples.json";
  }

  /** A name as a file can have it: what means something in a path is written as its number. */
  private static String fileName(String name) {
    StringBuilder written = new StringBuilder();
    for (char c : name.toCharArray()) {
      boolean special = "/\\:*?\"<>|%".indexOf(c) >= 0 || c == '.' && written.isEmpty();
      written.append(special ? String.format("%%%02X", (int) c) : String.valueOf(c));
    }
    return written.toString();
  }

  /** The findings of a rulebase that somebody has accepted; none where there is no such file. */
  public List<AcceptedDoc> accepted(String rulebase) {
    String path = "rulebases/" + rulebase + ".accepted.csv";
    return optional(path)
        .map(text -> CsvCells.rows(path, text, CompanyFolder::accepted))
        .orElse(List.of());
  }

  private static AcceptedDoc accepted(CsvCells.Row row) {
    return new AcceptedDoc(
        row.get("rule"), row.get("kind"), row.get("print"), row.get("reason"), row.get("who"));
  }

  /** All records of a rulebase, with its promises and accepted findings. */
  public Contents contents(String rulebase) {
    Contents contents;
    try {
      contents =
          DocumentWriter.contents(
              rulebase, RulebaseReader.read(text("rulebases/" + rulebase + ".rules")).rulebase());
    } catch (FileTextException e) {
      throw new FaultException("rulebases/" + rulebase + ".rules", "", e.getMessage());
    }
    promises(rulebase).forEach(promise -> contents.put(RecordKind.PROMISE, promise));
    accepted(rulebase).forEach(one -> contents.put(RecordKind.ACCEPTED, one));
    return contents;
  }

  /** The whole text of a file. */
  public String text(String path) {
    return optional(path).orElseThrow(() -> new FaultException(path, "", "this file is missing"));
  }

  /** The whole text of a file, if there is one. */
  public Optional<String> optional(String path) {
    Optional<InputStream> file = files.apply(path);
    return file.isEmpty() ? Optional.empty() : Optional.of(text(path, file.get()));
  }

  private static String text(String path, InputStream file) {
    try (InputStream in = file) {
      return SourceText.read(in.readAllBytes());
    } catch (FileTextException e) {
      throw new FaultException(path, "", e.getMessage());
    } catch (IOException e) {
      throw new FaultException(path, "", "this file cannot be read: " + e.getMessage());
    }
  }

  private <T> List<T> rows(String path, Function<CsvCells.Row, T> reader) {
    return CsvCells.rows(path, text(path), reader);
  }

  private static List<String> list(String text) {
    return text.isBlank() ? List.of() : Arrays.stream(text.split(";")).map(String::trim).toList();
  }
}
