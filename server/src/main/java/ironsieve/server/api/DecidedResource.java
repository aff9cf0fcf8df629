package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.server.edit.Editor;
import ironsieve.server.releases.GatewayLog;
import jakarta.inject.Inject;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** What the gateways of a rulebase decided, by their own word. */
@Path("/api/rulebases/{id}/decided")
@Produces(MediaType.APPLICATION_JSON)
@Blocking
public class DecidedResource {

  private static final int MOST = 500;

  @Inject Editor editor;
  @Inject GatewayLog log;

  /** How often a gateway's rule caught something; without a rule it is the default verdict. */
  @Schema(requiredProperties = {"gateway", "hits", "last"})
  public record GatewayHitsView(String gateway, String rule, long hits, Instant last) {}

  /**
   * A connection that a gateway decided: without a verdict it ended before that, without a rule the
   * default verdict caught it; {@code probe} is empty where the rule does not log.
   */
  @Schema(requiredProperties = {"number", "gateway", "at", "release", "probe"})
  public record DecidedView(
      long number,
      String gateway,
      Instant at,
      int release,
      String verdict,
      String rule,
      String probe) {}

  /** How often each rule caught something, by the gateways of a rulebase. */
  @GET
  @Path("hits")
  public List<GatewayHitsView> hits(@PathParam("id") String id) {
    editor.snapshot(id);
    return log.hits(id).stream()
        .map(
            one ->
                new GatewayHitsView(one.gateway(), one.rule().orElse(null), one.hits(), one.last()))
        .toList();
  }

  /**
   * The newest connections that the gateways of a rulebase decided, the newest first.
   *
   * @param after only those with a number above this
   */
  @GET
  public List<DecidedView> newest(
      @PathParam("id") String id,
      @QueryParam("after") @DefaultValue("0") long after,
      @QueryParam("most") @DefaultValue("100") int most) {
    editor.snapshot(id);
    return log.newest(id, after, Math.min(Math.max(most, 1), MOST)).stream()
        .map(DecidedResource::view)
        .toList();
  }

  static DecidedView view(GatewayLog.Decided one) {
    return new DecidedView(
        one.number(),
        one.gateway(),
        one.at(),
        one.release(),
        one.verdict().orElse(null),
        one.rule().orElse(null),
        one.probe());
  }
}
