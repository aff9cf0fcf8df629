package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.CsvCells;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.FaultException;
import ironsieve.server.api.FallViews.PromiseView;
import ironsieve.server.api.Views.EditedView;
import ironsieve.server.edit.Author;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseStep;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.io.StringWriter;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/**
 * Promises: what became of them, and as CSV (RFC 4180). They are saved and removed by steps of an
 * edit.
 */
@Path("/api/rulebases/{id}/promises")
@Blocking
public class PromiseResource {

  private static final String[] COLUMNS = {"id", "group", "name", "probe", "verdict", "catcher"};
  private static final String CSV = "text/csv";

  @Inject Editor editor;
  @Inject Work work;

  @GET
  @Produces(MediaType.APPLICATION_JSON)
  public List<PromiseView> all(@PathParam("id") String id) {
    return FallViews.promises(editor.snapshot(id));
  }

  /** All promises, a line each. */
  @GET
  @Path("csv")
  @Produces(CSV)
  public String export(@PathParam("id") String id) throws IOException {
    StringWriter text = new StringWriter();
    try (CSVPrinter rows =
        new CSVPrinter(text, CSVFormat.RFC4180.builder().setHeader(COLUMNS).get())) {
      for (PromiseDoc doc : editor.snapshot(id).contents().promisesInOrder()) {
        rows.printRecord(
            Stream.of(doc.id(), doc.group(), doc.name(), doc.probe(), doc.verdict(), doc.catcher())
                .map(CsvCells::format)
                .toList());
      }
    }
    return text.toString();
  }

  /**
   * Saves every line; one with the id of a known promise replaces it. All of them, or, with a
   * fault, none.
   */
  @POST
  @Path("csv")
  @Consumes(CSV)
  @Produces(MediaType.APPLICATION_JSON)
  public EditedView load(
      @PathParam("id") String id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason,
      @QueryParam("revision") long revision,
      String text) {
    List<RulebaseStep> steps =
        CsvCells.rows(
            "promises", text == null ? "" : text, List.of(COLUMNS), PromiseResource::step);
    if (steps.isEmpty()) {
      throw new FaultException("promises", "csv", "there is no line with a promise in it");
    }
    Editor.Outcome outcome =
        editor.edit(
            id,
            revision,
            new Author(who, reason),
            "loaded " + steps.size() + " promises",
            steps,
            work.progress());
    return Differences.edited(outcome, editor.possible(id, who));
  }

  private static RulebaseStep step(CsvCells.Row row) {
    return new RulebaseStep.SavePromise(
        row.optional("id").filter(said -> !said.isBlank()),
        new RulebaseStep.PromisePatch(
            row.optional("group"),
            Optional.of(row.get("name")),
            Optional.of(row.get("probe")),
            Optional.of(row.get("verdict")),
            row.optional("catcher")));
  }
}
