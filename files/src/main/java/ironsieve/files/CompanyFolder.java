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
import ironsieve.files.Documents.SiteDoc;
import ironsieve.files.Documents.ZoneDoc;
import ironsieve.model.Catalogue;
import ironsieve.model.Environment;
import ironsieve.model.Value;
import ironsieve.model.ValueKind;
import ironsieve.region.Address;
import ironsieve.text.FileTextException;
import ironsieve.text.HostText;
import ironsieve.text.PlainText;
import ironsieve.text.RulebaseReader;
import ironsieve.text.SourceText;
import ironsieve.text.ValueText;
import java.io.IOException;
import java.io.InputStream;
import java.time.LocalDate;
import java.util.ArrayList;
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
  private static final String NAME = "name";

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
    if (files.apply(SETS).isEmpty()) {
      return List.of();
    }
    return rows(
        SETS,
        row -> {
          SetDoc set =
              new SetDoc(row.get("kind"), row.get(NAME), list(row.get("values")), row.get("note"));
          DocumentReader.set(set);
          return set;
        });
  }

  /** The organisation's own applications; none where there is no such file. */
  public List<ApplicationDoc> ownApplications() {
    return files.apply(OWN_APPLICATIONS).isEmpty() ? List.of() : applications(OWN_APPLICATIONS);
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
              return new GroupDoc(name, list(row.get("inside")), row.get("note"));
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
          return new PersonDoc(login, row.get(NAME), own, attributes(row));
        });
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
    return edition == 0 ? List.of() : applications("catalogue/edition-" + edition + ".csv");
  }

  private List<ApplicationDoc> applications(String path) {
    Once once = new Once();
    return rows(
        path,
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
                  row.get("description"));
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
    company().lists().forEach(name -> lists.put(name, addresses(listPath(name))));
    Map<String, List<String>> hosts = new LinkedHashMap<>();
    Once names = new Once();
    rows(
        "atlas/hosts.csv",
        row -> {
          String host = names.add("host name", row, "host");
          checkHost(row, "host", host);
          List<String> all = list(row.get("addresses"));
          for (String address : all) {
            checkAddress(row, address);
          }
          return hosts.put(host, all);
        });
    Once sites = new Once();
    List<SiteDoc> entries =
        rows(
            "atlas/sites.csv",
            row -> {
              String entry = sites.add("site", row, "names");
              if (!(value(row, "names", ValueKind.SITE, entry) instanceof Value.HostName)) {
                throw row.fault("names", "a site is such as shop.example or *.shop.example");
              }
              PlainText.nameProblem(row.get("category"), MOST_LETTERS)
                  .ifPresent(
                      problem -> {
                        throw row.fault("category", problem);
                      });
              return new SiteDoc(entry, row.get("category"));
            });
    return new AtlasDoc(countries(), lists, hosts, entries);
  }

  private static void checkHost(CsvCells.Row row, String column, String host) {
    try {
      HostText.name(host);
    } catch (IllegalArgumentException e) {
      throw row.fault(column, e.getMessage());
    }
  }

  private static void checkAddress(CsvCells.Row row, String address) {
    try {
      Address.parse(address);
    } catch (IllegalArgumentException e) {
      throw row.fault("addresses", e.getMessage());
    }
  }

  /** A line of a file that says something. */
  private record Line(String file, int number, String text) {

    private FaultException fault(int column, String message) {
      return new FaultException(file + ", line " + number + ", column " + column, "", message);
    }

    /** A network that stands in it. */
    private String network(String cell, int column) {
      try {
        if (ValueText.parse(ValueKind.NETWORK, cell) instanceof Value.Network) {
          return cell;
        }
        throw fault(column, "\"" + cell + "\" is no network, such as 203.0.113.0/24");
      } catch (IllegalArgumentException e) {
        throw fault(column, e.getMessage());
      }
    }
  }

  private List<String> addresses(String path) {
    return lines(path).stream().map(line -> line.network(line.text(), 1)).toList();
  }

  /** A geofeed: each line a prefix and a country, further columns unread, comments after #. */
  private Map<String, List<String>> countries() {
    Map<String, List<String>> countries = new LinkedHashMap<>();
    Map<String, String> known = new HashMap<>();
    for (Line line : lines("atlas/geofeed.csv")) {
      String[] cells = line.text().split(",", -1);
      String prefix = line.network(cells[0].trim(), 1);
      String country = cells.length < 2 ? "" : cells[1].trim();
      if (!country.matches("[A-Z]{2}")) {
        throw line.fault(
            cells[0].length() + 2,
            "\""
                + country
                + "\" is no country; a line is a prefix and two capital letters, such as"
                + " 203.0.113.0/24,XA");
      }
      String other = known.putIfAbsent(prefix, country);
      if (other != null && !other.equals(country)) {
        throw line.fault(1, prefix + " stands here twice, as " + other + " and as " + country);
      }
      if (other == null) {
        countries.computeIfAbsent(country, c -> new ArrayList<>()).add(prefix);
      }
    }
    return countries;
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
    return files.apply(path).isEmpty()
        ? List.of()
        : rows(
            path,
            row ->
                new AcceptedDoc(
                    row.get("rule"),
                    row.get("kind"),
                    row.get("print"),
                    row.get("reason"),
                    row.get("who")));
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
    try (InputStream in =
        files.apply(path).orElseThrow(() -> new FaultException(path, "", "this file is missing"))) {
      return SourceText.read(in.readAllBytes());
    } catch (FileTextException e) {
      throw new FaultException(path, "", e.getMessage());
    } catch (IOException e) {
      throw new FaultException(path, "", "this file cannot be read: " + e.getMessage());
    }
  }

  private List<Line> lines(String path) {
    List<Line> lines = new ArrayList<>();
    int number = 0;
    for (String raw : text(path).split("\r?\n", -1)) {
      number++;
      String said = raw.replaceAll("#.*", "").trim();
      if (!said.isEmpty()) {
        lines.add(new Line(path, number, said));
      }
    }
    return lines;
  }

  private <T> List<T> rows(String path, Function<CsvCells.Row, T> reader) {
    return CsvCells.rows(path, text(path), reader);
  }

  private static List<String> list(String text) {
    return text.isBlank() ? List.of() : Arrays.stream(text.split(";")).map(String::trim).toList();
  }
}
