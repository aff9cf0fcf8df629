package ironsieve.server.edit;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.greaterThan;

import io.quarkus.test.junit.QuarkusTest;
import ironsieve.review.Review;
import ironsieve.server.DemoData;
import ironsieve.server.demo.DemoLoader;
import jakarta.inject.Inject;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.Test;

/** A long review can be watched, stopped and asked for anew, and keeps nobody from editing. */
@QuarkusTest
class StoppedReviewTest {

  private static final int RULES = 5_000;

  /** So many that their review is still going on when it is stopped. */
  private static final int MANY = 10_000;

  @Inject DemoData demo;
  @Inject DemoLoader loader;
  @Inject Editor editor;

  @Test
  void aReviewIsStoppedAndMadeWhenAskedForAnew() {
    demo.restore();
    String path = "/api/rulebases/generated-" + MANY;
    loader.generate(MANY);
    RulebaseSnapshot snapshot = editor.snapshot("generated-" + MANY);
    snapshot.compiled();
    CompletableFuture<Integer> asked =
        CompletableFuture.supplyAsync(() -> given().get(path + "/review").statusCode());
    while (snapshot.progress().filter(progress -> progress.total() > 0).isEmpty()
        && !asked.isDone()) {
      Thread.onSpinWait();
    }
    // At once, for the review does not wait for this test.
    given().delete(path + "/review/progress").then().body("total", equalTo(MANY));
    assertThat(asked.join()).isEqualTo(409);
    given().get(path + "/review").then().statusCode(409).body("type", equalTo("/problems/stopped"));
    given().get(path + "/review?anew=true").then().body("rules.size()", greaterThan(9_000));
    given().get(path + "/review").then().statusCode(200);
    given().get(path + "/review/progress").then().body("total", equalTo(0));
  }

  @Test
  void whatIsTriedOutIsGivenUpWhenNobodyWaitsForIt() {
    demo.restore();
    loader.generate(RULES);
    RulebaseSnapshot snapshot = editor.snapshot("generated-" + RULES);
    snapshot.review();
    RulebaseSnapshot tried = editor.tryOut(snapshot, List.of(new Step.SetDefaultVerdict("allow")));
    CompletableFuture<Review> asked = CompletableFuture.supplyAsync(tried::review);
    while (tried.progress().filter(progress -> progress.total() > 0).isEmpty() && !asked.isDone()) {
      Thread.onSpinWait();
    }
    tried.abandon();
    assertThat(asked)
        .failsWithin(Duration.ofMinutes(1))
        .withThrowableThat()
        .havingRootCause()
        .isInstanceOf(CancellationException.class);
    assertThat(editor.snapshot("generated-" + RULES).review()).isSameAs(snapshot.review());
  }
}
