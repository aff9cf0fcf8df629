package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import io.smallrye.common.annotation.NonBlocking;
import io.smallrye.mutiny.Multi;
import io.smallrye.mutiny.Uni;
import io.smallrye.mutiny.infrastructure.Infrastructure;
import io.smallrye.mutiny.subscription.BackPressureStrategy;
import ironsieve.files.FaultException;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.releases.Gateway;
import ironsieve.server.releases.GatewayLog;
import ironsieve.server.releases.Releases;
import ironsieve.server.store.ChangeFeed;
import jakarta.inject.Inject;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.HttpHeaders;
import jakarta.ws.rs.core.MediaType;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jboss.resteasy.reactive.RestResponse;

/** What gateways ask; see docs/gateway-protocol.md. */
@Path("/api/gateway-protocol")
@Blocking
@Produces(MediaType.APPLICATION_JSON)
public class GatewayProtocolResource {

  private static final int LONGEST_WAIT = 25;
  private static final int MOST_LINES = 1_000;

  /** So long one lookup may take where nobody waits for news. */
  private static final Duration MARGIN = Duration.ofSeconds(5);

  private static final String BEARER = "Bearer ";

  @Inject Releases releases;
  @Inject GatewayLog log;
  @Inject ChangeFeed feed;

  /** Told to whoever has no key, or one that is worth nothing. */
  static final class NotEnrolledException extends RuntimeException {

    private static final long serialVersionUID = 1L;

    private NotEnrolledException(String message) {
      super(message);
    }
  }

  /** The code that somebody was given for a gateway. */
  @Schema(requiredProperties = {"code"})
  public record EnrolRequest(String code) {}

  /** A gateway's name and key, and the public key that checks what it is told. */
  @Schema(requiredProperties = {"gateway", "key", "publicKey"})
  public record EnrolmentView(String gateway, String key, String publicKey) {}

  /** A delivery and the manifest that it names, each with its signature. */
  @Schema(requiredProperties = {"delivery", "signature", "manifest", "manifestSignature"})
  public record ToldView(
      String delivery, String signature, String manifest, String manifestSignature) {}

  /** What a gateway says of a delivery, and the release that it decides by. */
  @Schema(requiredProperties = {"delivery", "state"})
  public record SaidRequest(Long delivery, String state, String why, Integer inForce) {}

  /** Who a gateway is. */
  @Schema(requiredProperties = {"gateway", "rulebase"})
  public record SelfView(String gateway, String rulebase) {}

  /**
   * What became of lines of a log: how many could not be read, and why none is on the tape, if so.
   */
  @Schema(requiredProperties = {"refused", "trouble"})
  public record LogView(long refused, String trouble) {}

  private Gateway demand(String authorization) {
    return Optional.ofNullable(authorization)
        .filter(text -> text.startsWith(BEARER))
        .flatMap(text -> releases.withKey(text.substring(BEARER.length()).strip()))
        .orElseThrow(
            () ->
                new NotEnrolledException("no gateway has this key; let it enrol with a new code"));
  }

  /** Enrols a gateway with the code that it was given; each works once. */
  @POST
  @Path("enrol")
  public EnrolmentView enrol(EnrolRequest request) {
    return Optional.ofNullable(request)
        .map(EnrolRequest::code)
        .flatMap(releases::enrol)
        .map(one -> new EnrolmentView(one.gateway(), one.key(), one.publicKey()))
        .orElseThrow(
            () ->
                new NotEnrolledException(
                    "there is no such code, or it was used already; a code works once"));
  }

  /**
   * What the gateway is told that is newer than a delivery.
   *
   * @param wait so many seconds at most until there is something; then the answer is empty (204)
   * @param clock what the gateway takes for now, such as 2026-12-02T10:42:00Z
   */
  @GET
  @Path("delivery")
  @NonBlocking
  public Uni<RestResponse<ToldView>> delivery(
      @HeaderParam(HttpHeaders.AUTHORIZATION) String authorization,
      @QueryParam("after") @DefaultValue("0") long after,
      @QueryParam("wait") @DefaultValue("0") int wait,
      @QueryParam("clock") String clock) {
    Duration patience = Duration.ofSeconds(Math.min(Math.max(wait, 0), LONGEST_WAIT));
    return Uni.createFrom()
        .item(
            () -> {
              Gateway gateway = demand(authorization);
              releases.heard(
                  gateway, Optional.ofNullable(clock).map(GatewayProtocolResource::instant));
              return gateway;
            })
        .runSubscriptionOn(Infrastructure.getDefaultWorkerPool())
        .chain(gateway -> told(gateway, after, patience));
  }

  private static Instant instant(String text) {
    try {
      return Instant.parse(text);
    } catch (DateTimeParseException e) {
      throw new FaultException(
          "delivery", "clock", "\"" + text + "\" is no moment such as 2026-12-02T10:42:00Z");
    }
  }

  private Uni<RestResponse<ToldView>> told(Gateway gateway, long after, Duration patience) {
    String own = "gateway:" + gateway.name();
    // It is followed before it is looked at, so that nothing is missed in between.
    return Multi.createFrom()
        .<String>emitter(
            emitter -> {
              Runnable end =
                  feed.follow(
                      what -> {
                        if (what.isEmpty() || what.equals(own)) {
                          emitter.emit(own);
                        }
                      });
              emitter.onTermination(end);
              emitter.emit(own);
            },
            BackPressureStrategy.LATEST)
        .onItem()
        .transformToUniAndConcatenate(
            news ->
                Uni.createFrom()
                    .item(() -> releases.told(gateway, after))
                    .runSubscriptionOn(Infrastructure.getDefaultWorkerPool()))
        .filter(told -> told.isPresent() || patience.isZero())
        .toUni()
        .ifNoItem()
        .after(patience.isZero() ? MARGIN : patience)
        .recoverWithItem(Optional.empty())
        .map(
            told ->
                told.map(
                        one ->
                            RestResponse.ok(
                                new ToldView(
                                    one.delivery(),
                                    one.signature(),
                                    one.manifest(),
                                    one.manifestSignature())))
                    .orElseGet(RestResponse::noContent));
  }

  /** A part of a release, by its digest. */
  @GET
  @Path("parts/{digest}")
  @Produces(MediaType.TEXT_PLAIN)
  public String part(
      @HeaderParam(HttpHeaders.AUTHORIZATION) String authorization,
      @PathParam("digest") String digest) {
    demand(authorization);
    return releases.part(digest).orElseThrow(() -> UnknownException.of("part", digest, List.of()));
  }

  /** What the gateway says of what it was told. */
  @POST
  @Path("state")
  public void say(
      @HeaderParam(HttpHeaders.AUTHORIZATION) String authorization, SaidRequest request) {
    Gateway gateway = demand(authorization);
    if (request == null || request.delivery() == null || request.state() == null) {
      throw new FaultException("state", "", "say of which delivery, and what");
    }
    releases.say(
        gateway,
        request.delivery(),
        request.state(),
        request.why(),
        Optional.ofNullable(request.inForce()));
  }

  /** Where clients come in at the gateway's machine, so that people can be told how to try it. */
  @POST
  @Path("ports")
  public void listen(
      @HeaderParam(HttpHeaders.AUTHORIZATION) String authorization,
      List<GatewayResource.ZonePortView> ports) {
    Gateway gateway = demand(authorization);
    if (ports == null || ports.contains(null)) {
      throw new FaultException("ports", "", "say a list of zones, each with its port");
    }
    releases.keepPorts(
        gateway, ports.stream().map(one -> new Gateway.ZonePort(one.zone(), one.port())).toList());
  }

  /** Who the gateway is that has this key. */
  @GET
  @Path("self")
  public SelfView self(@HeaderParam(HttpHeaders.AUTHORIZATION) String authorization) {
    Gateway gateway = demand(authorization);
    return new SelfView(gateway.name(), gateway.rulebase());
  }

  /**
   * Takes lines of syslog, one for each connection, for good once it is answered.
   *
   * @param dropped how many connections the gateway could not tell of since it was started
   */
  @POST
  @Path("log")
  public LogView log(
      @HeaderParam(HttpHeaders.AUTHORIZATION) String authorization,
      @QueryParam("dropped") @DefaultValue("0") long dropped,
      List<String> lines) {
    Gateway gateway = demand(authorization);
    if (lines == null || lines.contains(null) || lines.size() > MOST_LINES) {
      throw new FaultException("log", "", "send a list of at most " + MOST_LINES + " lines");
    }
    GatewayLog.Taken taken = log.take(gateway, lines, Math.max(0, dropped));
    return new LogView(taken.refused(), taken.trouble());
  }
}
