package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.FaultException;
import ironsieve.server.api.FallViews.PromiseView;
import ironsieve.server.api.Views.EditedView;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.Step;
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
import java.io.StringReader;
import java.io.StringWriter;
import java.util.ArrayList;
import java.util.List;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVPrinter;
import org.apache.commons.csv.CSVRecord;

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

  @GET
  @Produces(MediaType.APPLICATION_JSON)
  public List<PromiseView> all(@PathParam("id") String id) {
    return FallViews.promises(editor.bench(id));
  }

  /** All promises, a line each. */
  @GET
  @Path("csv")
  @Produces(CSV)
  public String export(@PathParam("id") String id) throws IOException {
    StringWriter text = new StringWriter();
    try (CSVPrinter rows =
        new CSVPrinter(text, CSVFormat.RFC4180.builder().setHeader(COLUMNS).get())) {
      for (PromiseDoc doc : editor.bench(id).contents().promisesInOrder()) {
        rows.printRecord(
            doc.id(), doc.group(), doc.name(), doc.probe(), doc.verdict(), doc.catcher());
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
      @QueryParam("revision") long revision,
      String text)
      throws IOException {
    CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).get();
    List<Step> steps = new ArrayList<>();
    try (CSVParser rows = CSVParser.parse(new StringReader(text), format)) {
      for (CSVRecord row : rows) {
        steps.add(step(row));
      }
    }
    if (steps.isEmpty()) {
      throw new FaultException("promises", "csv", "there is no line with a promise in it");
    }
    Editor.Outcome outcome =
        editor.edit(id, revision, who, "loaded " + steps.size() + " promises", steps);
    return Differences.edited(outcome, editor.possible(id, who));
  }

  private static Step step(CSVRecord row) {
    for (String column : List.of("name", "probe", "verdict")) {
      if (!row.isMapped(column) || !row.isSet(column)) {
        throw new FaultException(
            "line " + (row.getRecordNumber() + 1),
            column,
            "a promise needs the columns name, probe and verdict; id, group and catcher may be missing");
      }
    }
    String id = optional(row, "id");
    return Step.ofPromise(
        Step.Op.SAVE_PROMISE,
        id == null || id.isBlank() ? null : id,
        new Step.PromisePatch(
            optional(row, "group"),
            row.get("name"),
            row.get("probe"),
            row.get("verdict"),
            optional(row, "catcher")));
  }

  private static String optional(CSVRecord row, String column) {
    return row.isMapped(column) && row.isSet(column) ? row.get(column) : null;
  }
}
