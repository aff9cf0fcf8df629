package ironsieve.server.api;

import com.fasterxml.jackson.databind.ObjectMapper;
import io.smallrye.common.annotation.Blocking;
import ironsieve.files.Documents.EditionDoc;
import ironsieve.files.FaultException;
import ironsieve.files.WorkspaceContents;
import ironsieve.files.WorkspaceKind;
import ironsieve.impact.Comparison;
import ironsieve.impact.EditionChange;
import ironsieve.impact.Impact;
import ironsieve.model.Environment;
import ironsieve.server.edit.Author;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.WorkspaceEditor;
import ironsieve.server.edit.WorkspaceStep;
import ironsieve.server.store.Company;
import ironsieve.traffic.signature.Clashes;
import jakarta.inject.Inject;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
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
  @Inject WorkspaceEditor workspace;
  @Inject ObjectMapper json;
  @Inject Work work;

  /** The editions there are, and the one in force. */
  @Schema(requiredProperties = {"inForce", "editions"})
  public record EditionsView(int inForce, List<Integer> editions) {}

  /**
   * What adopting an edition would change for one rulebase: applications that come, go or move, and
   * where the new and moved ones would fall; {@code clashes} are signatures of it that cannot be
   * told apart.
   */
  @Schema(
      requiredProperties = {
        "edition",
        "inForce",
        "changes",
        "complete",
        "kinds",
        "unknown",
        "broken",
        "clashes"
      })
  public record EditionImpactView(
      int edition,
      int inForce,
      List<ChangeView> changes,
      boolean complete,
      List<ImpactViews.KindView> kinds,
      List<String> unknown,
      List<String> broken,
      List<String> clashes) {}

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
    existing(edition);
    WorkspaceContents contents = company.newest().contents().copy();
    contents.put(WorkspaceKind.EDITION, new EditionDoc(edition));
    Environment next = contents.environment(company::edition, company.today());
    List<ChangeView> changes =
        EditionChange.between(before.environment().catalogue(), next.catalogue()).stream()
            .map(c -> new ChangeView(c.application(), Views.word(c.kind()), c.words()))
            .toList();
    RulebaseSnapshot after = editor.under(before, next);
    Impact impact =
        Comparison.ofSurroundings(
            before.compiled().rulebase(), before.environment(), next, IMPACT_BUDGET);
    return new EditionImpactView(
        edition,
        before.environment().catalogue().edition(),
        changes,
        impact.extent() == Impact.Extent.COMPLETE,
        impact.kinds().stream().map(ImpactViews::kind).toList(),
        unknown(before, after),
        ImpactViews.newlyBroken(before, after),
        Clashes.of(company.signaturesWith(edition, company.newest().contents())).stream()
            .map(Clashes.Clash::sentence)
            .toList());
  }

  /** What the rules name and would stand for nothing, each once, in a few words. */
  private static List<String> unknown(RulebaseSnapshot before, RulebaseSnapshot after) {
    List<String> known = before.compiled().unknownNames();
    return after.compiled().unknownNames().stream().filter(name -> !known.contains(name)).toList();
  }

  private void existing(int edition) {
    if (!company.editions().contains(edition)) {
      throw new FaultException(
          "edition " + edition,
          "edition",
          "there is no such edition; there are "
              + company.editions().stream().map(String::valueOf).collect(Collectors.joining(", ")));
    }
  }

  /**
   * Keeps an edition of the catalogue that came as a file; it is put in force apart. An edition
   * that is there already is never replaced.
   */
  @PUT
  @Path("editions/{edition}")
  @Consumes("text/csv")
  public EditionsView load(@PathParam("edition") int edition, String csv) {
    company.loadEdition(edition, csv == null ? "" : csv);
    return editions();
  }

  /**
   * Puts an edition in force for all rulebases; what they name and it lacks is told as a finding.
   */
  @POST
  @Path("editions/{edition}/adopt")
  public EditionsView adopt(
      @PathParam("edition") int edition,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @HeaderParam(RulebaseResource.REASON) @DefaultValue("") String reason) {
    existing(edition);
    WorkspaceStep step =
        new WorkspaceStep.Put(
            WorkspaceKind.EDITION.word(), json.valueToTree(new EditionDoc(edition)));
    workspace.change(
        company.newest().version(),
        new Author(who, reason),
        "put catalogue edition " + edition + " in force",
        List.of(step),
        work.progress());
    return editions();
  }
}
