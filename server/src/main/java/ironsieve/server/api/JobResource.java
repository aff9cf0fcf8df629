package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.jobs.Jobs;
import jakarta.inject.Inject;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** What the server is working on, and what has failed. */
@Path("/api/jobs")
@Produces(MediaType.APPLICATION_JSON)
@Blocking
public class JobResource {

  @Inject Jobs jobs;

  /**
   * Something that is going on.
   *
   * @param owner who began it; empty for the server itself
   * @param doing what it is at, in a few words
   * @param total how many there are of it; 0 where that is not known
   * @param cancellable whether it can be cancelled; what cannot ends by itself soon
   */
  @Schema(
      requiredProperties = {
        "id",
        "kind",
        "what",
        "owner",
        "begun",
        "doing",
        "done",
        "total",
        "cancellable"
      })
  public record JobView(
      long id,
      String kind,
      String what,
      String owner,
      Instant begun,
      String doing,
      int done,
      int total,
      boolean cancellable) {}

  /** Something that has failed. */
  @Schema(requiredProperties = {"kind", "what", "owner", "at", "why"})
  public record FailedView(String kind, String what, String owner, Instant at, String why) {}

  /** What is going on, what has failed lately, and how often something has since the start. */
  @Schema(requiredProperties = {"running", "failed", "failures"})
  public record JobsView(List<JobView> running, List<FailedView> failed, long failures) {}

  /** What this server is working on, the oldest first. */
  @GET
  public JobsView all() {
    return new JobsView(
        jobs.running().stream().map(JobResource::view).toList(),
        jobs.failed().stream()
            .map(
                one ->
                    new FailedView(one.kind().word(), one.what(), one.owner(), one.at(), one.why()))
            .toList(),
        jobs.failures().values().stream().mapToLong(Long::longValue).sum());
  }

  /** Cancels something; whoever waits for it is told who did. */
  @POST
  @Path("{id}/cancel")
  public JobView cancel(
      @PathParam("id") long id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who) {
    return jobs.cancel(id, who)
        .map(JobResource::view)
        .orElseThrow(
            () ->
                UnknownException.of(
                    "job",
                    String.valueOf(id),
                    jobs.running().stream()
                        .filter(one -> one.kind().canBeCancelled())
                        .map(one -> String.valueOf(one.id()))
                        .toList()));
  }

  private static JobView view(Jobs.Running one) {
    return new JobView(
        one.id(),
        one.kind().word(),
        one.what(),
        one.owner(),
        one.begun(),
        one.progress().what(),
        one.progress().done(),
        one.progress().total(),
        one.kind().canBeCancelled());
  }
}
