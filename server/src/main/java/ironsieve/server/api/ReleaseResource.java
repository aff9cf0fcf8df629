package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.server.edit.Author;
import ironsieve.server.releases.Release;
import ironsieve.server.releases.Releases;
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

/** Releases of a rulebase, and their way to its gateways. */
@Path("/api/rulebases/{id}/releases")
@Blocking
@Produces(MediaType.APPLICATION_JSON)
public class ReleaseResource {

  @Inject Releases releases;

  /** A release: its number, the revision it was made of, what was said of it, by whom and when. */
  @Schema(requiredProperties = {"number", "revision", "title", "reference", "note", "who", "at"})
  public record ReleaseView(
      int number,
      long revision,
      String title,
      String reference,
      String note,
      String who,
      Instant at) {}

  /** What is to be released: a revision, which has to be the newest, and what it is for. */
  @Schema(requiredProperties = {"revision", "title"})
  public record ReleaseRequest(Long revision, String title, String reference, String note) {}

  /** The releases of a rulebase, the newest first. */
  @GET
  public List<ReleaseView> all(@PathParam("id") String id) {
    return releases.of(id).stream().map(ReleaseResource::view).toList();
  }

  /** Makes a release and tells it to all gateways of the rulebase. */
  @POST
  public ReleaseView make(
      @PathParam("id") String id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      ReleaseRequest request) {
    if (request == null || request.revision() == null) {
      throw new FaultException("release", "revision", "say which revision is to be released");
    }
    return view(
        releases.make(
            id,
            request.revision(),
            new Releases.Words(request.title(), request.reference(), request.note()),
            new Author(who, "")));
  }

  /** Tells all gateways of the rulebase to put one of its releases in force, an older one too. */
  @POST
  @Path("{number}/deliver")
  public ReleaseView deliver(@PathParam("id") String id, @PathParam("number") int number) {
    return view(releases.deliver(id, number));
  }

  private static ReleaseView view(Release release) {
    return new ReleaseView(
        release.number(),
        release.revision(),
        release.title(),
        release.reference(),
        release.note(),
        release.who(),
        release.at());
  }
}
