package ironsieve.files;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import ironsieve.files.CompanyFolder.CompanyFile;
import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.files.Documents.ApplicationDoc;
import ironsieve.files.Documents.AtlasDoc;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.text.RulebaseFile;
import ironsieve.text.RulebaseWriter;
import java.io.IOException;
import java.io.StringWriter;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** A company as the files of its folder; {@link CompanyFolder} reads them back. */
public final class CompanyWriter {

  private static final ObjectMapper JSON =
      new ObjectMapper().enable(SerializationFeature.INDENT_OUTPUT);

  private final SortedMap<String, String> files = new TreeMap<>();

  private CompanyWriter() {}

  /**
   * One rulebase to be written.
   *
   * @param tapes the traffic recorded there, as CSV by name
   */
  public record Written(Contents contents, boolean archived, Map<String, String> tapes) {

    public Written {
      tapes = new TreeMap<>(tapes);
    }
  }

  /**
   * The files of a company, by their paths.
   *
   * @param editions the applications of each edition of the catalogue
   */
  public static SortedMap<String, String> files(
      WorkspaceContents workspace,
      SortedMap<Integer, List<ApplicationDoc>> editions,
      List<Written> rulebases) {
    CompanyWriter writer = new CompanyWriter();
    writer.company(workspace, editions, rulebases);
    writer.directory(workspace);
    editions.forEach(
        (number, all) -> writer.applications("catalogue/edition-" + number + ".csv", all));
    if (!workspace.applications().isEmpty()) {
      writer.applications("catalogue/own.csv", workspace.applications());
    }
    writer.atlas(workspace.atlas());
    if (!workspace.sets().isEmpty()) {
      writer.csv(
          "sets.csv",
          List.of("kind", "name", "values", "note"),
          workspace.sets(),
          set -> List.of(set.kind(), set.name(), joined(set.values()), orEmpty(set.note())));
    }
    if (!workspace.sources().isEmpty()) {
      writer.json("sources.json", workspace.sources());
    }
    rulebases.forEach(writer::rulebase);
    return writer.files;
  }

  private void company(
      WorkspaceContents workspace,
      SortedMap<Integer, List<ApplicationDoc>> editions,
      List<Written> rulebases) {
    Map<String, List<String>> tapes = new TreeMap<>();
    rulebases.stream()
        .filter(one -> !one.tapes().isEmpty())
        .forEach(one -> tapes.put(one.contents().id(), List.copyOf(one.tapes().keySet())));
    CompanyFile file =
        new CompanyFile(
            workspace.organisation().isBlank() ? "Unnamed" : workspace.organisation(),
            workspace.edition(),
            List.copyOf(editions.keySet()),
            workspace.deviceKinds(),
            List.copyOf(workspace.atlas().lists().keySet()),
            tapes,
            rulebases.stream().map(one -> one.contents().id()).toList(),
            rulebases.stream().filter(Written::archived).map(one -> one.contents().id()).toList(),
            workspace.zones().stream().map(zone -> zone.at(null)).toList());
    json("company.json", file);
  }

  private void json(String path, Object said) {
    try {
      // Through a tree of sorted keys, for maps of a record have no order of their own.
      files.put(path, JSON.writeValueAsString(JSON.<JsonNode>valueToTree(said)) + "\n");
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("records always become JSON", e);
    }
  }

  private void directory(WorkspaceContents workspace) {
    boolean groupsMarked = workspace.groups().stream().anyMatch(one -> !one.source().isEmpty());
    csv(
        "directory/groups.csv",
        marked(groupsMarked, List.of("name", "inside", "note"), "source"),
        workspace.groups(),
        group ->
            marked(
                groupsMarked,
                List.of(group.name(), joined(group.parents()), group.note()),
                group.source()));
    boolean peopleMarked = workspace.people().stream().anyMatch(one -> !one.source().isEmpty());
    csv(
        "directory/people.csv",
        marked(peopleMarked, List.of("login", "name", "groups", "attributes"), "source"),
        workspace.people(),
        person ->
            marked(
                peopleMarked,
                List.of(
                    person.login(),
                    person.name(),
                    joined(person.groups()),
                    joined(
                        new TreeMap<>(person.attributes())
                            .entrySet().stream()
                                .map(entry -> entry.getKey() + "=" + entry.getValue())
                                .toList())),
                person.source()));
  }

  /** Cells with one more for the source, where any record has one. */
  private static List<String> marked(boolean any, List<String> cells, String source) {
    return any ? Stream.concat(cells.stream(), Stream.of(source)).toList() : cells;
  }

  private void applications(String path, Collection<ApplicationDoc> applications) {
    csv(
        path,
        List.of(
            "name",
            "category",
            "family",
            "provider",
            "exposure",
            "work value",
            "content",
            "usual ports",
            "rides on",
            "needs",
            "features",
            "description",
            "signatures"),
        applications,
        one ->
            Stream.of(
                    one.name(),
                    one.category(),
                    one.family(),
                    one.provider(),
                    one.exposure(),
                    one.workValue(),
                    one.content(),
                    joined(one.usualPorts()),
                    joined(one.ridesOn()),
                    joined(one.needs()),
                    joined(one.features()),
                    one.description(),
                    String.join("\n", one.signatures()))
                .map(CompanyWriter::orEmpty)
                .toList());
  }

  private void atlas(AtlasDoc atlas) {
    StringBuilder geofeed = new StringBuilder();
    new TreeMap<>(atlas.countries())
        .forEach(
            (code, networks) ->
                networks.forEach(
                    network -> geofeed.append(network).append(',').append(code).append(",,,\n")));
    files.put("atlas/geofeed.csv", geofeed.toString());
    csv(
        "atlas/hosts.csv",
        List.of("host", "addresses"),
        new TreeMap<>(atlas.hosts()).entrySet(),
        host -> List.of(host.getKey(), joined(host.getValue())));
    csv(
        "atlas/sites.csv",
        List.of("names", "category"),
        atlas.sites(),
        site -> List.of(site.names(), site.category()));
    atlas
        .lists()
        .forEach(
            (name, addresses) ->
                files.put(
                    CompanyFolder.listPath(name),
                    addresses.stream().map(one -> one + "\n").collect(Collectors.joining())));
  }

  private void rulebase(Written written) {
    Contents contents = written.contents();
    String path = "rulebases/" + contents.id();
    files.put(path + ".rules", RulebaseWriter.write(RulebaseFile.of(contents.rulebase())));
    csv(
        path + ".promises.csv",
        List.of("id", "group", "name", "probe", "verdict", "catcher"),
        contents.promisesInOrder(),
        (PromiseDoc doc) ->
            Stream.of(doc.id(), doc.group(), doc.name(), doc.probe(), doc.verdict(), doc.catcher())
                .map(CompanyWriter::orEmpty)
                .toList());
    Map<String, Object> accepted = new TreeMap<>(contents.records().get(RecordKind.ACCEPTED));
    if (!accepted.isEmpty()) {
      csv(
          path + ".accepted.csv",
          List.of("rule", "kind", "print", "reason", "who"),
          accepted.values(),
          doc -> {
            AcceptedDoc one = (AcceptedDoc) doc;
            return Stream.of(one.rule(), one.kind(), one.print(), one.reason(), one.who())
                .map(CompanyWriter::orEmpty)
                .toList();
          });
    }
    written
        .tapes()
        .forEach((name, csv) -> files.put(CompanyFolder.tapePath(contents.id(), name), csv));
  }

  private <T> void csv(
      String path, List<String> columns, Collection<T> rows, Function<T, List<String>> cells) {
    StringWriter text = new StringWriter();
    CSVFormat format = CSVFormat.RFC4180.builder().setHeader(columns.toArray(String[]::new)).get();
    try (CSVPrinter printer = new CSVPrinter(text, format)) {
      for (T row : rows) {
        List<String> written = new ArrayList<>();
        cells.apply(row).forEach(cell -> written.add(CsvCells.format(cell)));
        printer.printRecord(written);
      }
    } catch (IOException e) {
      throw new IllegalStateException("nothing is written to but memory", e);
    }
    files.put(path, text.toString());
  }

  private static String joined(List<String> values) {
    return String.join("; ", values);
  }

  private static String orEmpty(String text) {
    return text == null ? "" : text;
  }
}
