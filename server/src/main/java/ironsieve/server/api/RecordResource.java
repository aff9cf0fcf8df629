package ironsieve.server.api;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.smallrye.common.annotation.Blocking;
import ironsieve.files.Documents;
import ironsieve.files.Documents.SiteDoc;
import ironsieve.files.FaultException;
import ironsieve.files.WorkspaceKind;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.sources.Sources;
import ironsieve.server.store.Company;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** The lists of the workspace: device kinds, address lists, countries, host names and sites. */
@Path("/api/workspace")
@Produces(MediaType.APPLICATION_JSON)
@Consumes(MediaType.APPLICATION_JSON)
@Blocking
public class RecordResource {

  private static final int MOST_SHOWN = 500;
  private static final int MOST_VALUES = 20;

  private static final List<WorkspaceKind> KINDS =
      List.of(
          WorkspaceKind.DEVICE_KIND,
          WorkspaceKind.ADDRESS_LIST,
          WorkspaceKind.COUNTRY,
          WorkspaceKind.HOST,
          WorkspaceKind.SITE);

  @Inject Company company;
  @Inject Sources sources;
  @Inject ObjectMapper json;

  /** Some records of a kind: of {@code total} those {@code matching}, the first of them shown. */
  @Schema(requiredProperties = {"version", "total", "matching", "shown"})
  public record RecordsView(long version, int total, int matching, List<BriefView> shown) {}

  /** A record: its first values and how many it has; {@code keptBy} a source, or empty. */
  @Schema(requiredProperties = {"id", "values", "count", "keptBy"})
  public record BriefView(String id, List<String> values, int count, String keptBy) {}

  /** A whole record. */
  @Schema(requiredProperties = {"version", "doc"})
  public record RecordView(long version, @Schema(implementation = Object.class) JsonNode doc) {}

  /** Records whose id or one of whose values holds a text. */
  @GET
  @Path("records")
  public RecordsView records(
      @QueryParam("kind") @DefaultValue("") String kind,
      @QueryParam("text") @DefaultValue("") String text,
      @QueryParam("most") @DefaultValue("200") int most) {
    WorkspaceKind of = kind(kind);
    Company.WorkspaceVersion known = company.newest();
    String wanted = text.trim().toLowerCase(Locale.ROOT);
    Map<String, Object> all = known.contents().records(of);
    List<Map.Entry<String, Object>> matching =
        all.entrySet().stream()
            .filter(
                entry ->
                    holds(entry.getKey(), wanted)
                        || values(entry.getValue()).stream().anyMatch(one -> holds(one, wanted)))
            .toList();
    Map<String, String> keepers = sources.keepers(of);
    return new RecordsView(
        known.version(),
        all.size(),
        matching.size(),
        matching.stream()
            .limit(Math.max(1, Math.min(most, MOST_SHOWN)))
            .map(entry -> brief(entry.getKey(), values(entry.getValue()), keepers))
            .toList());
  }

  private static boolean holds(String text, String wanted) {
    return text.toLowerCase(Locale.ROOT).contains(wanted);
  }

  private static BriefView brief(String id, List<String> values, Map<String, String> keepers) {
    return new BriefView(
        id,
        List.copyOf(values.subList(0, Math.min(MOST_VALUES, values.size()))),
        values.size(),
        keepers.getOrDefault(id, ""));
  }

  private static List<String> values(Object doc) {
    return Documents.addresses(doc)
        .orElseGet(() -> doc instanceof SiteDoc site ? List.of(site.category()) : List.of());
  }

  /** One record. */
  @GET
  @Path("record")
  public RecordView record(
      @QueryParam("kind") @DefaultValue("") String kind,
      @QueryParam("id") @DefaultValue("") String id) {
    WorkspaceKind of = kind(kind);
    Company.WorkspaceVersion known = company.newest();
    Object doc =
        known
            .contents()
            .record(of, id)
            .orElseThrow(
                () ->
                    UnknownException.of(
                        of.word(), id, List.copyOf(known.contents().records(of).keySet())));
    return new RecordView(known.version(), json.valueToTree(doc));
  }

  private static WorkspaceKind kind(String word) {
    return WorkspaceKind.ofWord(word)
        .filter(KINDS::contains)
        .orElseThrow(
            () ->
                new FaultException(
                    "records",
                    "kind",
                    "lists are of "
                        + String.join(", ", KINDS.stream().map(WorkspaceKind::word).toList())));
  }
}
