package ironsieve.server.demo;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.server.store.Contents;
import ironsieve.server.store.Documents.ApplicationDoc;
import ironsieve.server.store.Documents.ChapterDoc;
import ironsieve.server.store.Documents.GroupDoc;
import ironsieve.server.store.Documents.PersonDoc;
import ironsieve.server.store.Documents.PromiseDoc;
import ironsieve.server.store.Documents.RuleDoc;
import ironsieve.server.store.Documents.SetDoc;
import ironsieve.server.store.Documents.ZoneDoc;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/**
 * Reads the demo company's files: JSON, and CSV after RFC 4180 with lists joined by {@code "; "}.
 */
@ApplicationScoped
class DemoFiles {

  @Inject ObjectMapper json;

  /** The company's own file. */
  record CompanyFile(String name, List<String> deviceKinds, List<ZoneDoc> zones) {}

  /** A rulebase's file: records without positions, which their order gives. */
  record RulebaseFile(
      String id,
      String name,
      String lastLine,
      List<SetDoc> sets,
      List<ChapterFile> chapters,
      List<PromiseDoc> promises) {}

  /** A chapter with its rules. */
  record ChapterFile(String id, String title, String note, List<RuleDoc> rules) {}

  CompanyFile company() {
    return document("company.json", CompanyFile.class);
  }

  List<GroupDoc> groups() {
    return rows(
        "directory/groups.csv",
        row -> new GroupDoc(row.get("name"), list(row.get("inside")), row.get("note")));
  }

  List<PersonDoc> people() {
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

  List<ApplicationDoc> catalogue(int edition) {
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
                list(row.get("usual ports")),
                list(row.get("rides on")),
                list(row.get("needs")),
                list(row.get("features")),
                row.get("description")));
  }

  Contents rulebase(String name) {
    RulebaseFile file = document("rulebases/" + name + ".json", RulebaseFile.class);
    Map<String, ChapterDoc> chapters = new LinkedHashMap<>();
    Map<String, RuleDoc> rules = new LinkedHashMap<>();
    Map<String, SetDoc> sets = new LinkedHashMap<>();
    for (ChapterFile chapter : file.chapters()) {
      BigDecimal place = BigDecimal.valueOf(chapters.size() + 1L);
      chapters.put(
          chapter.id(), new ChapterDoc(chapter.id(), place, chapter.title(), chapter.note()));
      for (RuleDoc rule : chapter.rules()) {
        rules.put(rule.id(), rule.at(chapter.id(), BigDecimal.valueOf(rules.size() + 1L)));
      }
    }
    file.sets().forEach(set -> sets.put(set.id(), set));
    Map<String, PromiseDoc> promises = new LinkedHashMap<>();
    file.promises().forEach(promise -> promises.put(promise.id(), promise));
    return new Contents(
        new Contents.Title(file.id(), file.name(), file.lastLine()),
        chapters,
        rules,
        sets,
        promises);
  }

  private <T> T document(String path, Class<T> type) {
    try (InputStream in = open(path)) {
      return json.readValue(in, type);
    } catch (IOException e) {
      throw new UncheckedIOException("demo file " + path, e);
    }
  }

  private static <T> List<T> rows(String path, Function<CSVRecord, T> reader) {
    CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).get();
    try (InputStream in = open(path);
        CSVParser rows =
            CSVParser.parse(new InputStreamReader(in, StandardCharsets.UTF_8), format)) {
      return rows.stream().map(reader).toList();
    } catch (IOException e) {
      throw new UncheckedIOException("demo file " + path, e);
    }
  }

  private static InputStream open(String path) throws IOException {
    InputStream in =
        Thread.currentThread().getContextClassLoader().getResourceAsStream("demo/" + path);
    if (in == null) {
      throw new IOException("not found");
    }
    return in;
  }

  private static List<String> list(String text) {
    return text.isBlank() ? List.of() : Arrays.stream(text.split(";")).map(String::trim).toList();
  }
}
