package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.server.releases.Desk;
import ironsieve.server.releases.Gateway;
import ironsieve.server.releases.Releases;
import ironsieve.server.tapes.GatewayTapes;
import jakarta.inject.Inject;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.enums.SchemaType;
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
  @Inject GatewayTapes tapes;
  @Inject Desk desk;

  /**
   * A gateway: the release that it was told ({@code wanted}), what it said of that ({@code state},
   * {@code why} it failed), what is in force by its own word, when it was heard of, whether that is
   * longer ago than it should be, and how many seconds its clock is ahead where that matters;
   * {@code ports} are where clients come in; {@code dropped} is how many connections it could not
   * tell of since it was started.
   */
  @Schema(
      requiredProperties = {
        "name",
        "rulebase",
        "state",
        "why",
        "away",
        "clockAhead",
        "ports",
        "dropped"
      })
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
      List<ZonePortView> ports,
      long dropped) {}

  /** The port of the gateway's machine on which clients of a zone come in. */
  @Schema(requiredProperties = {"zone", "port"})
  public record ZonePortView(String zone, int port) {}

  /** Which rulebase a gateway reads. */
  @Schema(requiredProperties = {"rulebase"})
  public record GatewayRequest(String rulebase) {}

  /**
   * What is opened: the client's zone, who it says it is, and an address such as {@code
   * https://page.example/} or {@code tcp://page.example:22}.
   */
  @Schema(requiredProperties = {"zone", "address"})
  public record DeskRequest(String zone, String person, String address) {}

  /**
   * What came of it: what the client got ({@code answer, refusal, cut, silence, no entry, no
   * gateway}) with the status and the beginning of the body of an answer, who issued the
   * certificate that it was shown, and what the gateway decided; without {@code decided} it has not
   * said in time.
   */
  @Schema(requiredProperties = {"address", "end", "body", "issuer"})
  public record DeskView(
      String address,
      @Schema(
              type = SchemaType.STRING,
              enumeration = {"answer", "refusal", "cut", "silence", "no entry", "no gateway"})
          String end,
      Integer status,
      String body,
      String issuer,
      DecidedResource.DecidedView decided) {}

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

  /** Takes a gateway out; its key is worth nothing any more; the tape that its log became stays. */
  @DELETE
  @Path("{name}")
  public List<GatewayView> remove(@PathParam("name") String name) {
    Gateway gateway = releases.remove(name);
    tapes.end(gateway.rulebase(), gateway.tape());
    return all();
  }

  /** Opens a real connection through a gateway, as a client of a zone. */
  @POST
  @Path("{name}/tries")
  public DeskView open(@PathParam("name") String name, DeskRequest request) {
    if (request == null || request.zone() == null || request.address() == null) {
      throw new FaultException("try", "", "say from which zone, and which address");
    }
    Optional<String> person =
        Optional.ofNullable(request.person()).map(String::strip).filter(one -> !one.isEmpty());
    Desk.Wish wish = new Desk.Wish(request.zone(), person, Desk.Wish.address(request.address()));
    Desk.Result result = desk.open(name, wish);
    Desk.Got got = result.got();
    return new DeskView(
        wish.address().toString(),
        got.end().name().toLowerCase(Locale.ROOT).replace('_', ' '),
        got.status() == 0 ? null : got.status(),
        got.body(),
        got.issuer(),
        result.decided().map(DecidedResource::view).orElse(null));
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
        one.ports().stream().map(port -> new ZonePortView(port.zone(), port.port())).toList(),
        one.dropped());
  }
}
