package ironsieve.server.api;

import ironsieve.progress.Progress;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.jobs.Jobs;
import jakarta.inject.Inject;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** How far long requests are that were given a name. */
@Path("/api/work")
@Produces(MediaType.APPLICATION_JSON)
public class WorkResource {

  @Inject Jobs jobs;

  /**
   * How far some work is.
   *
   * @param what what is being done now, in a few words
   * @param total how many there are of it; 0 where that is not known
   */
  @Schema(requiredProperties = {"what", "done", "total"})
  public record WorkView(String what, int done, int total) {}

  /** The progress of a request that is still being answered; 404 once it is, or elsewhere. */
  @GET
  @Path("{name}")
  public WorkView one(@PathParam("name") String name) {
    Progress progress =
        jobs.named(name)
            .map(Jobs.Running::progress)
            .orElseThrow(() -> UnknownException.of("work", name, List.of()));
    return new WorkView(progress.what(), progress.done(), progress.total());
  }
}
