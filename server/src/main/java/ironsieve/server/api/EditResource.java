package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.files.RulebaseFormat;
import ironsieve.model.Rulebase;
import ironsieve.server.api.Views.EditedView;
import ironsieve.server.edit.Author;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.RulebaseStep;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Makes edits of a rulebase, takes them back and makes them again. */
@Path("/api")
@Produces(MediaType.APPLICATION_JSON)
@Consumes(MediaType.APPLICATION_JSON)
@Blocking
public class EditResource {

  /** As many steps one edit may have. */
  static final int MOST_STEPS = 20_000;

  private static final int MOST_LETTERS = 500;

  @Inject Editor editor;
  @Inject Work work;

  /**
   * An edit.
   *
   * @param revision the revision it was made on
   * @param what a few words for the journal
   */
  @Schema(requiredProperties = {"revision", "what", "steps"})
  public record EditRequest(long revision, String what, List<RulebaseStep> steps) {}

  /** A wish to take back, on the revision seen. */
  @Schema(requiredProperties = {"revision"})
  public record TakeBackRequest(long revision) {}

  @POST
  @Path("rulebases/{id}/edits")
  public EditedView edit(
      @PathParam("id") String id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason,
      EditRequest request) {
    if (request == null || request.steps() == null || request.steps().isEmpty()) {
      throw new FaultException("edit", "steps", "an edit has at least one step");
    }
    if (request.steps().size() > MOST_STEPS) {
      throw new FaultException(
          "edit",
          "steps",
          "an edit has at most " + MOST_STEPS + " steps, not " + request.steps().size());
    }
    demandNoNull(request.steps());
    String what = request.what() == null ? "edited" : request.what();
    FaultException.demandName("edit", "what", what, MOST_LETTERS);
    return edited(
        id,
        who,
        editor.edit(
            id,
            request.revision(),
            new Author(who, reason),
            what,
            request.steps(),
            work.progress()));
  }

  static void demandNoNull(List<RulebaseStep> steps) {
    if (steps.contains(null)) {
      throw new FaultException("edit", "steps", "a step is an object with an \"op\", not null");
    }
  }

  /** A text to be put in the place of what a rulebase says, and the revision seen. */
  @Schema(requiredProperties = {"revision", "text"})
  public record ReplaceRequest(long revision, String text, String format) {}

  static Rulebase requested(RulebaseSnapshot before, ReplaceRequest request) {
    if (request == null || request.text() == null) {
      throw new FaultException("request", "text", "say the text of a rulebase");
    }
    String format =
        request.format() == null || request.format().isBlank()
            ? RulebaseFormat.guess(request.text())
            : request.format();
    return RulebaseFormat.ofWord(format)
        .demand(before.contents().name(), request.text())
        .rulebase();
  }

  /** Puts a text in the place of what the rulebase says, as an edit that can be undone. */
  @POST
  @Path("rulebases/{id}/replace")
  public EditedView replace(
      @PathParam("id") String id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason,
      ReplaceRequest request) {
    Rulebase says = requested(editor.snapshot(id), request);
    return edited(
        id,
        who,
        editor.replace(id, request.revision(), new Author(who, reason), says, work.progress()));
  }

  @POST
  @Path("rulebases/{id}/undo")
  public EditedView undo(
      @PathParam("id") String id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason,
      TakeBackRequest request) {
    return edited(
        id, who, editor.undo(id, seen(request), new Author(who, reason), work.progress()));
  }

  @POST
  @Path("rulebases/{id}/redo")
  public EditedView redo(
      @PathParam("id") String id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason,
      TakeBackRequest request) {
    return edited(
        id, who, editor.redo(id, seen(request), new Author(who, reason), work.progress()));
  }

  /** An older revision to be made current again, and the revision seen. */
  @Schema(requiredProperties = {"revision", "old"})
  public record RestoreRequest(long revision, long old) {}

  /** Makes an older revision current again, as an edit that can be undone. */
  @POST
  @Path("rulebases/{id}/restore")
  public EditedView restore(
      @PathParam("id") String id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason,
      RestoreRequest request) {
    if (request == null) {
      throw new FaultException(
          "request", "old", "say which revision, such as {\"revision\": 7, \"old\": 3}");
    }
    return edited(
        id,
        who,
        editor.restore(
            id, request.revision(), new Author(who, reason), request.old(), work.progress()));
  }

  private static long seen(TakeBackRequest request) {
    if (request == null) {
      throw new FaultException(
          "request", "revision", "say on which revision, such as {\"revision\": 7}");
    }
    return request.revision();
  }

  private EditedView edited(String id, String who, Editor.Outcome outcome) {
    return Differences.edited(outcome, editor.possible(id, who));
  }
}
