package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.decide.Decider;
import ironsieve.server.api.FallViews.FallView;
import ironsieve.server.api.FallViews.StageView;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.releases.Releases;
import ironsieve.server.store.Company;
import ironsieve.text.ProbeText;
import ironsieve.text.QuickRule;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.time.Clock;
import java.time.LocalDateTime;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jboss.resteasy.reactive.RestResponse;

/** Probes: drop one, and help with writing it. */
@Path("/api")
@Produces(MediaType.APPLICATION_JSON)
@Consumes(MediaType.APPLICATION_JSON)
@Blocking
public class ProbeResource {

  @Inject Clock clock;
  @Inject Editor editor;
  @Inject Company company;
  @Inject Releases releases;

  /** A probe as a sentence. */
  @Schema(requiredProperties = {"text"})
  public record ProbeRequest(String text) {}

  /** One way to go on. */
  @Schema(requiredProperties = {"text", "kind", "detail"})
  public record CompletionView(String text, String kind, String detail) {}

  /** Ways to go on; {@code from} is where the text to be replaced begins. */
  @Schema(requiredProperties = {"from", "choices"})
  public record CompletionsView(int from, List<CompletionView> choices) {}

  @POST
  @Path("rulebases/{id}/probe")
  public FallView drop(@PathParam("id") String id, ProbeRequest request) {
    return fall(editor.snapshot(id), text(request), LocalDateTime.now(clock));
  }

  private static String text(ProbeRequest request) {
    return request == null || request.text() == null ? "" : request.text();
  }

  /**
   * What becomes of a probe by a release, in the surroundings that were frozen with it; {@code
   * same} says whether the draft decides it the same, by the same rule.
   */
  @Schema(requiredProperties = {"release", "gateways", "same", "fall"})
  public record InForceFallView(int release, List<String> gateways, boolean same, FallView fall) {}

  /** Asks a probe of what is in force; nothing (204) where nothing was ever released. */
  @POST
  @Path("rulebases/{id}/probe/in-force")
  public RestResponse<InForceFallView> dropInForce(
      @PathParam("id") String id, ProbeRequest request) {
    LocalDateTime now = LocalDateTime.now(clock);
    String text = text(request);
    return releases
        .inForce(id)
        .map(
            inForce -> {
              RulebaseSnapshot released = inForce.compared().snapshot();
              FallView there = fall(released, text, now);
              FallView here = fall(editor.snapshot(id), text, now);
              boolean isSame =
                  there.outcome().equals(here.outcome())
                      && there.caughtBy().equals(here.caughtBy())
                      && outcomes(there).equals(outcomes(here));
              return RestResponse.ok(
                  new InForceFallView(
                      inForce.compared().release().number(), inForce.gateways(), isSame, there));
            })
        .orElseGet(RestResponse::noContent);
  }

  /** What may happen at each stage; what is waited for says nothing of what becomes of it. */
  private static List<List<String>> outcomes(FallView fall) {
    return fall.stages().stream().map(StageView::outcomes).toList();
  }

  private static FallView fall(RulebaseSnapshot snapshot, String text, LocalDateTime now) {
    ProbeText.Probe probe = new ProbeText(snapshot.environment()).parse(text, now);
    return FallViews.fall(
        snapshot, probe, new Decider(snapshot.compiled()).fall(probe.connection()));
  }

  @GET
  @Path("probe/completions")
  public CompletionsView complete(@QueryParam("text") @DefaultValue("") String text) {
    // A rule goes on like a probe once it has said what happens.
    int begun =
        QuickRule.isOne(text)
            ? text.indexOf(' ', text.length() - text.stripLeading().length()) + 1
            : 0;
    ProbeText.Completions found =
        new ProbeText(company.environment()).complete(text.substring(begun));
    return new CompletionsView(
        begun + found.from(),
        found.choices().stream()
            .map(choice -> new CompletionView(choice.text(), choice.kind(), choice.detail()))
            .toList());
  }
}
