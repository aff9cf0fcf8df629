package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import ironsieve.files.FaultException;
import ironsieve.impact.Comparison;
import ironsieve.impact.EditionChange;
import ironsieve.impact.Impact;
import ironsieve.model.Catalogue;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.store.Company;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.util.List;
import java.util.stream.Collectors;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Editions of the catalogue: which there are, what one would change, and putting it in force. */
@Path("/api")
@Produces(MediaType.APPLICATION_JSON)
@Consumes(MediaType.APPLICATION_JSON)
@Blocking
public class EditionResource {

  private static final int IMPACT_BUDGET = 300_000;

  @Inject Company company;
  @Inject Editor editor;
  @Inject Work work;

  /** The editions there are, and the one in force. */
  @Schema(requiredProperties = {"inForce", "editions"})
  public record EditionsView(int inForce, List<Integer> editions) {}

  /**
   * What adopting an edition would change for one rulebase: applications that come, go or move, and
   * where the new and moved ones would fall.
   */
  @Schema(
      requiredProperties = {
        "edition",
        "inForce",
        "changes",
        "complete",
        "kinds",
        "unreadable",
        "broken"
      })
  public record EditionImpactView(
      int edition,
      int inForce,
      List<ChangeView> changes,
      boolean complete,
      List<ImpactViews.KindView> kinds,
      List<String> unreadable,
      List<String> broken) {}

  /** One application that is new, gone or changed, and in what. */
  @Schema(requiredProperties = {"application", "kind", "words"})
  public record ChangeView(String application, String kind, List<String> words) {}

  @GET
  @Path("editions")
  public EditionsView editions() {
    return new EditionsView(company.environment().catalogue().edition(), company.editions());
  }

  @GET
  @Path("rulebases/{id}/editions/{edition}")
  public EditionImpactView impact(@PathParam("id") String id, @PathParam("edition") int edition) {
    RulebaseSnapshot before = editor.snapshot(id);
    Catalogue next = existing(edition);
    List<ChangeView> changes =
        EditionChange.between(before.environment().catalogue(), next).stream()
            .map(c -> new ChangeView(c.application(), Views.word(c.kind()), c.words()))
            .toList();
    RulebaseSnapshot after = editor.under(before, before.environment().with(next));
    List<String> unreadable =
        after.faultsBeyond(before).stream()
            .map(fault -> fault.place() + ": " + fault.message())
            .toList();
    if (!unreadable.isEmpty()) {
      return new EditionImpactView(
          edition,
          before.environment().catalogue().edition(),
          changes,
          false,
          List.of(),
          unreadable,
          List.of());
    }
    Impact impact =
        Comparison.ofEdition(
            before.compiled().rulebase(), before.environment(), next, IMPACT_BUDGET);
    return new EditionImpactView(
        edition,
        before.environment().catalogue().edition(),
        changes,
        impact.extent() == Impact.Extent.COMPLETE,
        impact.kinds().stream().map(ImpactViews::kind).toList(),
        unreadable,
        ImpactViews.newlyBroken(before, after));
  }

  private Catalogue existing(int edition) {
    if (!company.editions().contains(edition)) {
      throw new FaultException(
          "edition " + edition,
          "edition",
          "there is no such edition; there are "
              + company.editions().stream().map(String::valueOf).collect(Collectors.joining(", ")));
    }
    return company.edition(edition);
  }

  /** Puts an edition in force for all rulebases, if all of them can still be read under it. */
  @POST
  @Path("editions/{edition}/adopt")
  public EditionsView adopt(
      @PathParam("edition") int edition,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who) {
    editor.adopt(existing(edition), who, work.progress());
    return editions();
  }
}
