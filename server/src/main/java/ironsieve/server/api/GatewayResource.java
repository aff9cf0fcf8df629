package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.server.releases.Gateway;
import ironsieve.server.releases.Releases;
import jakarta.inject.Inject;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** The gateways that releases go to. */
@Path("/api/gateways")
@Blocking
@Produces(MediaType.APPLICATION_JSON)
public class GatewayResource {

  @Inject Releases releases;

  /**
   * A gateway: the release that it was told ({@code wanted}), what it said of that ({@code state},
   * {@code why} it failed), what is in force by its own word, and when it was heard of.
   */
  @Schema(requiredProperties = {"name", "rulebase", "state", "why"})
  public record GatewayView(
      String name,
      String rulebase,
      Integer wanted,
      String state,
      String why,
      Integer inForce,
      Instant said) {}

  /** Which rulebase a gateway reads. */
  @Schema(requiredProperties = {"rulebase"})
  public record GatewayRequest(String rulebase) {}

  /** The code that a gateway enrols with, once; nobody can read it again. */
  @Schema(requiredProperties = {"code"})
  public record InvitationView(String code) {}

  /** All gateways, by name. */
  @GET
  public List<GatewayView> all() {
    return releases.gateways().stream().map(GatewayResource::view).toList();
  }

  /** Makes a gateway, or lets one enrol anew; a key that it had is worth nothing any more. */
  @PUT
  @Path("{name}")
  public InvitationView invite(@PathParam("name") String name, GatewayRequest request) {
    if (request == null || request.rulebase() == null) {
      throw new FaultException("gateway", "rulebase", "say which rulebase it reads");
    }
    return new InvitationView(releases.invite(name, request.rulebase()));
  }

  /** Takes a gateway out; its key is worth nothing any more. */
  @DELETE
  @Path("{name}")
  public List<GatewayView> remove(@PathParam("name") String name) {
    releases.remove(name);
    return all();
  }

  private static GatewayView view(Gateway one) {
    return new GatewayView(
        one.name(),
        one.rulebase(),
        one.wanted().orElse(null),
        one.state(),
        one.why(),
        one.inForce().orElse(null),
        one.said().orElse(null));
  }
}
