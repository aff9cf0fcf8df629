package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.server.releases.Gateway;
import ironsieve.server.releases.Releases;
import ironsieve.server.tapes.Listeners;
import jakarta.inject.Inject;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** The gateways that releases go to. */
@Path("/api/gateways")
@Blocking
@Produces(MediaType.APPLICATION_JSON)
public class GatewayResource {

  /** A gateway asks for news at least so often, by far. */
  private static final Duration LONGEST_SILENCE = Duration.ofSeconds(60);

  /** Less is what a message takes on its way. */
  private static final int MOST_SECONDS_OFF = 30;

  @Inject Clock clock;
  @Inject Releases releases;
  @Inject Listeners listeners;

  /**
   * A gateway: the release that it was told ({@code wanted}), what it said of that ({@code state},
   * {@code why} it failed), what is in force by its own word, when it was heard of, whether that is
   * longer ago than it should be, and how many seconds its clock is ahead where that matters;
   * {@code ports} are where clients come in.
   */
  @Schema(requiredProperties = {"name", "rulebase", "state", "why", "away", "clockAhead", "ports"})
  public record GatewayView(
      String name,
      String rulebase,
      Integer wanted,
      String state,
      String why,
      Integer inForce,
      Instant said,
      boolean away,
      int clockAhead,
      List<ZonePortView> ports) {}

  /** The port of the gateway's machine on which clients of a zone come in. */
  @Schema(requiredProperties = {"zone", "port"})
  public record ZonePortView(String zone, int port) {}

  /** Which rulebase a gateway reads. */
  @Schema(requiredProperties = {"rulebase"})
  public record GatewayRequest(String rulebase) {}

  /** The code that a gateway enrols with, once; nobody can read it again. */
  @Schema(requiredProperties = {"code"})
  public record InvitationView(String code) {}

  /** All gateways, by name. */
  @GET
  public List<GatewayView> all() {
    return releases.gateways().stream().map(this::view).toList();
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

  /** Takes a gateway out; its key is worth nothing any more, and its log is heard no more. */
  @DELETE
  @Path("{name}")
  public List<GatewayView> remove(@PathParam("name") String name) {
    Gateway gateway = releases.remove(name);
    listeners.stop(gateway.rulebase(), gateway.tape());
    return all();
  }

  private GatewayView view(Gateway one) {
    boolean isAway =
        one.said().filter(said -> said.plus(LONGEST_SILENCE).isBefore(clock.instant())).isPresent();
    return new GatewayView(
        one.name(),
        one.rulebase(),
        one.wanted().orElse(null),
        one.state(),
        one.why(),
        one.inForce().orElse(null),
        one.said().orElse(null),
        isAway,
        Math.abs(one.clockAhead()) > MOST_SECONDS_OFF ? one.clockAhead() : 0,
        one.ports().stream().map(port -> new ZonePortView(port.zone(), port.port())).toList());
  }
}
