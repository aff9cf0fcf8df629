package ironsieve.server.api;

import io.smallrye.common.annotation.Blocking;
import io.smallrye.common.annotation.NonBlocking;
import io.smallrye.mutiny.Multi;
import io.smallrye.mutiny.subscription.BackPressureStrategy;
import ironsieve.files.FaultException;
import ironsieve.server.api.Views.EditedView;
import ironsieve.server.api.Views.JournalView;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.store.ChangeFeed;
import ironsieve.server.store.JournalEntry;
import ironsieve.server.store.RulebaseStore;
import jakarta.inject.Inject;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.sse.OutboundSseEvent;
import jakarta.ws.rs.sse.Sse;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** Tells pages that something has changed, and what. */
@Path("/api")
public class ChangesResource {

  /** Longer nothing is sent to nobody, so that whatever lies in between keeps the connection. */
  private static final Duration HEARTBEAT = Duration.ofSeconds(15);

  private static final int MOST_ENTRIES = 50;

  @Inject Editor editor;
  @Inject RulebaseStore store;
  @Inject ChangeFeed feed;

  /**
   * Events named {@code changed} whenever a rulebase, its traffic, a gateway or the workspace has
   * changed, on any server of this database; what has, is asked for. Several changes may be one
   * event.
   */
  @GET
  @Path("change-events")
  @NonBlocking
  @Produces(MediaType.SERVER_SENT_EVENTS)
  public Multi<OutboundSseEvent> changes(@Context Sse sse) {
    Multi<OutboundSseEvent> changed =
        Multi.createFrom()
            .<String>emitter(
                emitter -> {
                  Runnable end = feed.follow(what -> emitter.emit("changed"));
                  emitter.onTermination(end);
                },
                // Whoever reads slowly is told once of all that happened meanwhile.
                BackPressureStrategy.LATEST)
            .map(name -> sse.newEventBuilder().name(name).data("").build());
    Multi<OutboundSseEvent> beats =
        Multi.createFrom()
            .ticks()
            .every(HEARTBEAT)
            .onOverflow()
            .drop()
            .map(tick -> sse.newEventBuilder().comment("still here").build());
    return Multi.createBy().merging().streams(changed, beats);
  }

  /**
   * What became of a rulebase since a revision.
   *
   * @param entries what was done since, the oldest first; of many the newest
   * @param edited what it changed; missing where that is too long ago, and all of it is to be read
   */
  @Schema(requiredProperties = {"entries"})
  public record SinceView(List<JournalView> entries, EditedView edited) {}

  /** What became of a rulebase since a revision that somebody has seen. */
  @GET
  @Path("rulebases/{id}/changes")
  @Produces(MediaType.APPLICATION_JSON)
  @Blocking
  public SinceView since(
      @PathParam("id") String id,
      @HeaderParam(RulebaseResource.EDITOR) @DefaultValue("somebody") String who,
      @QueryParam("since") @DefaultValue("-1") long since) {
    RulebaseSnapshot newest = editor.snapshot(id);
    if (since < 0 || since > newest.revision()) {
      throw new FaultException(
          "rulebase " + id, "since", "it has revisions 0 to " + newest.revision());
    }
    List<JournalEntry> entries = store.headsSince(id, since, MOST_ENTRIES);
    Optional<EditedView> edited =
        editor
            .followed(newest, since)
            .map(outcome -> Differences.edited(outcome, editor.possible(id, who)));
    return new SinceView(entries.stream().map(Views::journal).toList(), edited.orElse(null));
  }
}
