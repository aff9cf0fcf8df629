package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.server.api.ReviewViews.ReviewView;
import ironsieve.server.api.ReviewViews.RuleDetailView;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** What the review says of the newest revision, how far it is, and the way to stop it. */
@Path("/api/rulebases/{id}/review")
@Blocking
@Produces(MediaType.APPLICATION_JSON)
public class ReviewResource {

  @Inject Editor editor;
  @Inject Reviews reviews;

  /** How many rules have been looked at, of how many; none of none while no review is going on. */
  @Schema(requiredProperties = {"done", "total"})
  public record ProgressView(int done, int total) {}

  /**
   * The review; with {@code since} only what differs from an earlier one, where that is known. One
   * that was stopped is refused, unless it is asked for {@code anew}.
   */
  @GET
  public ReviewView review(
      @PathParam("id") String id,
      @QueryParam("since") @DefaultValue("") String since,
      @QueryParam("anew") @DefaultValue("false") boolean anew) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    if (anew) {
      snapshot.letReview();
    }
    return reviews.of(snapshot, since);
  }

  /** Everything the review says of one rule, with witnesses, remedies and explanations. */
  @GET
  @Path("rules/{rule}")
  public RuleDetailView review(@PathParam("id") String id, @PathParam("rule") String rule) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    return ReviewViews.detail(snapshot, RuleLookup.rule(snapshot, rule));
  }

  @GET
  @Path("progress")
  public ProgressView progress(@PathParam("id") String id) {
    return view(editor.snapshot(id));
  }

  /** Stops the review that is going on, if one is. */
  @DELETE
  @Path("progress")
  public ProgressView stop(@PathParam("id") String id) {
    RulebaseSnapshot snapshot = editor.snapshot(id);
    ProgressView far = view(snapshot);
    snapshot.stopReview();
    return far;
  }

  /** How many steps each question of the review may take; what takes more is undetermined. */
  @Schema(requiredProperties = {"steps"})
  public record StepsView(int steps) {}

  /** Sets how many steps each question may take from now on, for everybody. */
  @PUT
  @Path("steps")
  @Consumes(MediaType.APPLICATION_JSON)
  public StepsView allow(@PathParam("id") String id, StepsView wanted) {
    int steps = wanted == null ? 0 : wanted.steps();
    return new StepsView(editor.allow(id, steps).budget().searchSteps());
  }

  private static ProgressView view(RulebaseSnapshot snapshot) {
    return snapshot
        .progress()
        .map(progress -> new ProgressView(progress.done(), progress.total()))
        .orElse(new ProgressView(0, 0));
  }
}
