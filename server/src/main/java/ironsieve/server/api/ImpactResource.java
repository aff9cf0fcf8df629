package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import io.vertx.ext.web.RoutingContext;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.FaultException;
import ironsieve.server.api.ImpactViews.ImpactView;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
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
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Says what an edit would change, or has changed, without making it. */
@Path("/api")
@Produces(MediaType.APPLICATION_JSON)
@Consumes(MediaType.APPLICATION_JSON)
@Blocking
public class ImpactResource {

  @Inject Editor editor;
  @Inject RoutingContext request;
  @Inject Work work;

  /** Steps to ask the impact of. */
  @Schema(requiredProperties = {"steps"})
  public record ImpactRequest(List<RulebaseStep> steps) {}

  /** What an edit would change, without making it; given up if the asker goes away. */
  @POST
  @Path("rulebases/{id}/impact")
  public ImpactView impact(@PathParam("id") String id, ImpactRequest asked) {
    if (asked == null || asked.steps() == null || asked.steps().size() > EditResource.MOST_STEPS) {
      throw new FaultException(
          "impact",
          "steps",
          "an impact is asked of some steps, at most " + EditResource.MOST_STEPS);
    }
    EditResource.demandNoNull(asked.steps());
    RulebaseSnapshot before = editor.snapshot(id);
    return tried(before, editor.tryOut(before, asked.steps(), work.progress()));
  }

  /** What undo would change, or redo, without doing it. */
  @GET
  @Path("rulebases/{id}/impact/{action: undo|redo}")
  public ImpactView impactOfTakingBack(
      @PathParam("id") String id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @PathParam("action") String action) {
    RulebaseSnapshot before = editor.snapshot(id);
    return tried(before, editor.tryTakingBack(before, who, action));
  }

  private ImpactView tried(RulebaseSnapshot before, RulebaseSnapshot after) {
    request.addEndHandler(ended -> after.abandon());
    return ImpactViews.between(before, after);
  }

  /** What an older revision decides otherwise than a newer one; the newest without {@code to}. */
  @GET
  @Path("rulebases/{id}/impact")
  public ImpactView between(
      @PathParam("id") String id,
      @QueryParam("from") long from,
      @QueryParam("to") @DefaultValue("-1") long to) {
    RulebaseSnapshot after = to < 0 ? editor.snapshot(id) : editor.at(id, to);
    return ImpactViews.between(editor.at(id, from), after);
  }

  /** What a text in the place of a rulebase would change: its rules, and the connections. */
  @Schema(requiredProperties = {"added", "removed", "changed", "impact"})
  public record ReplacementView(
      List<String> added, List<String> removed, List<String> changed, ImpactView impact) {}

  /** What a text would change in the place of what the rulebase says, without putting it there. */
  @POST
  @Path("rulebases/{id}/replacement")
  public ReplacementView replacement(
      @PathParam("id") String id, EditResource.ReplaceRequest asked) {
    RulebaseSnapshot before = editor.snapshot(id);
    RulebaseSnapshot after =
        editor.tryReplacing(before, EditResource.requested(before, asked), work.progress());
    Map<String, RuleDoc> was = before.contents().rules();
    Map<String, RuleDoc> becomes = after.contents().rules();
    return new ReplacementView(
        becomes.values().stream().filter(r -> !was.containsKey(r.id())).map(this::called).toList(),
        was.values().stream().filter(r -> !becomes.containsKey(r.id())).map(this::called).toList(),
        becomes.values().stream()
            .filter(r -> was.containsKey(r.id()) && !was.get(r.id()).equals(r))
            .map(this::called)
            .toList(),
        tried(before, after));
  }

  private String called(RuleDoc rule) {
    return rule.name() == null || rule.name().isBlank() ? rule.id() : rule.name();
  }
}
