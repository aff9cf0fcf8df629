package ironsieve.server.api;

import com.fasterxml.jackson.core.JsonProcessingException;
import ironsieve.compile.ImpossibleConnectionException;
import ironsieve.server.api.ProblemDocument.FieldError;
import ironsieve.server.edit.NothingToTakeBackException;
import ironsieve.server.edit.StaleRevisionException;
import ironsieve.server.store.FaultException;
import ironsieve.server.store.Sql;
import ironsieve.text.TextException;
import jakarta.ws.rs.core.Response;
import java.util.List;
import java.util.NoSuchElementException;
import org.jboss.logging.Logger;
import org.jboss.resteasy.reactive.server.ServerExceptionMapper;

/** Exceptions to problem documents. */
public final class Problems {

  private static final Logger LOG = Logger.getLogger("ironsieve");

  @ServerExceptionMapper
  Response fault(FaultException e) {
    return answer(
        ProblemDocument.of("cannot-be-read", "This cannot be accepted", 422, e.getMessage())
            .with(
                e.faults().stream()
                    .map(f -> new FieldError(f.place(), f.field(), f.message(), null))
                    .toList()));
  }

  @ServerExceptionMapper
  Response text(TextException e) {
    return answer(
        ProblemDocument.of("cannot-be-read", "This text cannot be read", 422, e.getMessage())
            .with(List.of(new FieldError("text", "text", e.getMessage(), e.position()))));
  }

  @ServerExceptionMapper
  Response impossible(ImpossibleConnectionException e) {
    return answer(
        ProblemDocument.of(
                "no-such-connection", "There can be no such connection", 422, e.getMessage())
            .with(List.of(new FieldError("probe", e.field().key(), e.getMessage(), null))));
  }

  @ServerExceptionMapper
  Response stale(StaleRevisionException e) {
    return answer(
        ProblemDocument.of(
                "stale-revision", "The rulebase has changed in the meantime", 409, e.getMessage())
            .with(e.revision(), e.since().stream().map(Views::journal).toList()));
  }

  @ServerExceptionMapper
  Response nothing(NothingToTakeBackException e) {
    return answer(
        ProblemDocument.of(
            "nothing-to-take-back", "This cannot be taken back", 422, e.getMessage()));
  }

  @ServerExceptionMapper
  Response missing(NoSuchElementException e) {
    return answer(ProblemDocument.of("not-found", "There is no such thing", 404, e.getMessage()));
  }

  @ServerExceptionMapper
  Response json(JsonProcessingException e) {
    return answer(
        ProblemDocument.of(
            "cannot-be-read",
            "The request is not the JSON expected here",
            400,
            e.getOriginalMessage()));
  }

  @ServerExceptionMapper
  Response database(Sql.DatabaseException e) {
    LOG.error("database", e);
    return answer(
        ProblemDocument.of(
            "database",
            "The database cannot be reached",
            503,
            "Nothing was changed; try again in a moment."));
  }

  private static Response answer(ProblemDocument problem) {
    return Response.status(problem.status())
        .type("application/problem+json")
        .entity(problem)
        .build();
  }
}
