package ironsieve.server.api;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.exc.MismatchedInputException;
import ironsieve.compile.ImpossibleConnectionException;
import ironsieve.files.FaultException;
import ironsieve.files.JsonText;
import ironsieve.server.api.ProblemDocument.FieldError;
import ironsieve.server.edit.NothingToDoException;
import ironsieve.server.edit.NothingToTakeBackException;
import ironsieve.server.edit.StaleRevisionException;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.releases.ReleaseConflictException;
import ironsieve.server.store.Sql;
import ironsieve.text.FileTextException;
import ironsieve.text.TextException;
import jakarta.ws.rs.container.ContainerResponseContext;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.lang.annotation.Annotation;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.CancellationException;
import org.jboss.logging.Logger;
import org.jboss.resteasy.reactive.server.ServerExceptionMapper;
import org.jboss.resteasy.reactive.server.ServerResponseFilter;

/** Exceptions to problem documents. */
public final class Problems {

  private static final String PROBLEM = "application/problem+json";
  private static final String NOT_AS_EXPECTED = "The request is not the JSON expected here";
  private static final Logger LOG = Logger.getLogger("ironsieve");

  @ServerExceptionMapper
  Response fault(FaultException e) {
    return answer(
        ProblemDocument.of("cannot-be-read", "This cannot be accepted", 422, e.getMessage())
            .with(
                e.faults().stream()
                    .map(
                        f ->
                            new FieldError(
                                f.place(),
                                f.field(),
                                f.message(),
                                f.value().isEmpty() ? null : f.value(),
                                null))
                    .toList()));
  }

  @ServerExceptionMapper
  Response text(TextException e) {
    return answer(
        ProblemDocument.of("cannot-be-read", "This text cannot be read", 422, e.getMessage())
            .with(List.of(new FieldError("text", "text", e.getMessage(), null, e.position()))));
  }

  @ServerExceptionMapper
  Response fileText(FileTextException e) {
    return answer(
        ProblemDocument.of("cannot-be-read", "This text cannot be read", 422, e.getMessage())
            .with(List.of(new FieldError("text", "text", e.getMessage()))));
  }

  @ServerExceptionMapper
  Response impossible(ImpossibleConnectionException e) {
    return answer(
        ProblemDocument.of(
                "no-such-connection", "There can be no such connection", 422, e.getMessage())
            .with(List.of(new FieldError("probe", e.field().key(), e.getMessage()))));
  }

  /** A gateway without a key, or with one that is worth nothing. */
  @ServerExceptionMapper
  Response unknown(GatewayProtocolResource.NotEnrolledException e) {
    return answer(
        ProblemDocument.of("not-enrolled", "Nobody is enrolled with this", 401, e.getMessage()));
  }

  @ServerExceptionMapper
  Response stale(StaleRevisionException e) {
    return answer(
        ProblemDocument.of(
                "stale-revision", "The rulebase has changed in the meantime", 409, e.getMessage())
            .with(e.revision(), e.since().stream().map(Views::journal).toList()));
  }

  @ServerExceptionMapper
  Response meanwhile(ReleaseConflictException e) {
    return answer(
        ProblemDocument.of("changed-meanwhile", "Somebody else was quicker", 409, e.getMessage()));
  }

  @ServerExceptionMapper
  Response nothing(NothingToTakeBackException e) {
    return answer(
        ProblemDocument.of(
            "nothing-to-take-back", "This cannot be taken back", 422, e.getMessage()));
  }

  @ServerExceptionMapper
  Response stopped(CancellationException e) {
    // A pool that passes it on to another thread leaves the message out.
    String why = e.getMessage() == null ? "this was stopped" : e.getMessage();
    return answer(
        ProblemDocument.of(
            "stopped",
            "This was stopped",
            409,
            why.substring(0, 1).toUpperCase(Locale.ROOT)
                + why.substring(1)
                + ", and nothing was changed. It can be asked for anew."));
  }

  @ServerExceptionMapper
  Response nothing(NothingToDoException e) {
    return answer(ProblemDocument.of("nothing-to-do", "Nothing to save", 422, e.getMessage()));
  }

  @ServerExceptionMapper
  Response missing(UnknownException e) {
    return answer(ProblemDocument.of("not-found", "There is no such thing", 404, e.getMessage()));
  }

  /** JSON that is not what is expected here: what, where, and never in the parser's own words. */
  @ServerExceptionMapper({JsonProcessingException.class, MismatchedInputException.class})
  Response json(JsonProcessingException e) {
    if (e.getCause() instanceof FaultException fault) {
      // What was read is JSON of the right shape, and its maker refused it.
      return fault(fault);
    }
    String said =
        e instanceof TextJson.RefusedTextException ? e.getOriginalMessage() : JsonText.words(e);
    return answer(
        ProblemDocument.of("cannot-be-read", NOT_AS_EXPECTED, 400, said)
            .with(List.of(new FieldError("request", JsonText.path(e), said))));
  }

  /**
   * What the framework refuses by itself, without a word. (A mapper for its exceptions would also
   * take the page not found that the front end's own addresses depend on.)
   */
  @ServerResponseFilter
  void explain(ContainerResponseContext response) {
    int status = response.getStatus();
    if (status >= 400 && !(response.getEntity() instanceof ProblemDocument)) {
      response.setEntity(
          ProblemDocument.ofStatus(status), new Annotation[0], MediaType.valueOf(PROBLEM));
    }
  }

  @ServerExceptionMapper
  Response unknownOutcome(Sql.UnknownOutcomeException e) {
    LOG.error("database", e);
    return answer(
        ProblemDocument.of(
            "unknown-outcome",
            "It is not known whether this was saved",
            503,
            "The connection to the database broke while the change was being saved. Reload the page"
                + " to see whether it was, before you try again."));
  }

  @ServerExceptionMapper
  Response database(Sql.DatabaseException e) {
    if (e.isOfData()) {
      return answer(
          ProblemDocument.of(
              "cannot-be-read",
              "This cannot be stored",
              422,
              "A text has a character that no text can hold (such as NUL), or a number is too large."
                  + " Nothing was changed."));
    }
    LOG.error("database", e);
    return answer(
        ProblemDocument.of(
            "database",
            "The database cannot be reached",
            503,
            "Nothing was changed; try again in a moment."));
  }

  private static Response answer(ProblemDocument problem) {
    return Response.status(problem.status()).type(PROBLEM).entity(problem).build();
  }
}
