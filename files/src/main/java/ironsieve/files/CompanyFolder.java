package ironsieve.files;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.Documents.AtlasDoc;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.Documents.SiteDoc;
import ironsieve.files.Documents.ZoneDoc;
import ironsieve.model.Catalogue;
import ironsieve.model.Surroundings;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/**
 * A company's files: {@code company.json}; {@code directory/}, {@code catalogue/} and {@code
 * atlas/} as CSV after RFC 4180 with lists joined by {@code "; "}; countries as a geofeed after RFC
 * 8805; address lists as plain lines.
 */
public final class CompanyFolder {

  private final Function<String, Optional<InputStream>> files;
  private final ObjectMapper json = new ObjectMapper();

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
   * force, {@code tapes} the recorded traffic by rulebase.
   */
  public record CompanyFile(
      String name,
      int edition,
      List<Integer> editions,
      List<String> deviceKinds,
      List<String> lists,
      Map<String, List<String>> tapes,
      List<ZoneDoc> zones) {

    public CompanyFile {
      tapes = tapes == null ? Map.of() : Map.copyOf(tapes);
    }
  }

  /** The company's own file. */
  public CompanyFile company() {
    try (InputStream in = open("company.json")) {
      return json.readValue(in, CompanyFile.class);
    } catch (IOException e) {
      throw new UncheckedIOException("company.json", e);
    }
  }

  /** Everything a rulebase is read against, with the edition that is in force. */
  public Surroundings surroundings(LocalDate today) {
    CompanyFile company = company();
    return new Surroundings(
        company.zones().stream().map(Nouns::zone).toList(),
        Nouns.directory(people(), groups()),
        company.deviceKinds(),
        catalogue(company.edition()),
        Nouns.atlas(atlas()),
        today);
  }

  /** One edition of the catalogue. */
  public Catalogue catalogue(int edition) {
    return new Catalogue(edition, applications(edition).stream().map(Nouns::application).toList());
  }

  /** The directory's groups. */
  public List<GroupDoc> groups() {
    return rows(
        "directory/groups.csv",
        row -> new GroupDoc(row.get("name"), list(row.get("inside")), row.get("note")));
  }

  /** The directory's people. */
  public List<PersonDoc> people() {
    return rows(
        "directory/people.csv",
        row ->
            new PersonDoc(
                row.get("login"),
                row.get("name"),
                list(row.get("groups")),
                attributes(row.get("attributes"))));
  }

  private static Map<String, String> attributes(String text) {
    Map<String, String> attributes = new LinkedHashMap<>();
    for (String pair : list(text)) {
      String[] parts = pair.split("=", 2);
      attributes.put(parts[0], parts[1]);
    }
    return attributes;
  }

  /** The applications of one edition. */
  public List<ApplicationDoc> applications(int edition) {
    return rows(
        "catalogue/edition-" + edition + ".csv",
        row ->
            new ApplicationDoc(
                row.get("name"),
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
                row.get("description")));
  }

  /** What is known of addresses and host names. */
  public AtlasDoc atlas() {
    Map<String, List<String>> lists = new LinkedHashMap<>();
    company().lists().forEach(name -> lists.put(name, lines("atlas/lists/" + name + ".txt")));
    Map<String, List<String>> hosts = new LinkedHashMap<>();
    rows("atlas/hosts.csv", row -> hosts.put(row.get("host"), list(row.get("addresses"))));
    List<SiteDoc> sites =
        rows("atlas/sites.csv", row -> new SiteDoc(row.get("names"), row.get("category")));
    return new AtlasDoc(countries(), lists, hosts, sites);
  }

  /** A geofeed: each line a prefix and a country, further columns unread, comments after #. */
  private Map<String, List<String>> countries() {
    Map<String, List<String>> countries = new LinkedHashMap<>();
    for (String line : lines("atlas/geofeed.csv")) {
      String[] cells = line.split(",", -1);
      if (cells.length < 2 || cells[1].isBlank()) {
        throw new FaultException(
            "atlas/geofeed.csv", line, "a line is a prefix and a two-letter country");
      }
      countries.computeIfAbsent(cells[1].trim(), c -> new ArrayList<>()).add(cells[0].trim());
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
                row.get("name"),
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
        .forEach(name -> tapes.put(name, text("tapes/" + rulebase + "/" + name + ".csv")));
    return tapes;
  }

  /** The whole text of a file. */
  public String text(String path) {
    try (InputStream in = open(path)) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new UncheckedIOException(path, e);
    }
  }

  private List<String> lines(String path) {
    return text(path)
        .lines()
        .map(line -> line.replaceAll("#.*", "").trim())
        .filter(line -> !line.isEmpty())
        .toList();
  }

  private <T> List<T> rows(String path, Function<CSVRecord, T> reader) {
    CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).get();
    try (InputStream in = open(path);
        CSVParser rows =
            CSVParser.parse(new InputStreamReader(in, StandardCharsets.UTF_8), format)) {
      return rows.stream().map(reader).toList();
    } catch (IOException e) {
      throw new UncheckedIOException(path, e);
    }
  }

  private InputStream open(String path) throws IOException {
    return files.apply(path).orElseThrow(() -> new IOException(path + " is missing"));
  }

  private static List<String> list(String text) {
    return text.isBlank() ? List.of() : Arrays.stream(text.split(";")).map(String::trim).toList();
  }
}
