package ironsieve.server.edit;

import static io.restassured.RestAssured.given;
import static org.assertj.core.api.Assertions.assertThat;
import static org.hamcrest.Matchers.equalTo;
import static org.hamcrest.Matchers.greaterThan;

import io.quarkus.test.junit.QuarkusTest;
import ironsieve.Cases;
import ironsieve.review.Review;
import ironsieve.server.DemoData;
import ironsieve.server.demo.DemoLoader;
import jakarta.inject.Inject;
import java.util.List;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

/** A long review can be watched, stopped and asked for anew, and keeps nobody from editing. */
@QuarkusTest
class StoppedReviewTest {

  private static final int RULES = Cases.isLong() ? 5_000 : 1_500;

  /** So many that their review is still going on when it is stopped. */
  private static final int MANY = Cases.isLong() ? 10_000 : 3_000;

  private static final int MOST_TIMES = 20;

  @Inject DemoData demo;
  @Inject DemoLoader loader;
  @Inject Editor editor;

  private static void awaitBegin(RulebaseSnapshot snapshot, CompletableFuture<?> asked) {
    while (snapshot.progress().filter(progress -> progress.total() > 0).isEmpty()
        && !asked.isDone()) {
      Thread.onSpinWait();
    }
  }

  @Test
  void aReviewIsStoppedAndMadeWhenAskedForAnew() {
    demo.restore();
    String path = "/api/rulebases/generated-" + MANY;
    loader.generate(MANY);
    RulebaseSnapshot snapshot = editor.snapshot("generated-" + MANY);
    snapshot.compiled();
    // The review does not wait for this test: whoever comes too late asks for another one.
    int status = 200;
    for (int time = 1; status == 200; time++) {
      assertThat(time).as("the review was over before it could be stopped").isLessThan(MOST_TIMES);
      CompletableFuture<Integer> asked =
          CompletableFuture.supplyAsync(() -> given().get(path + "/review?anew=true").statusCode());
      awaitBegin(snapshot, asked);
      given().delete(path + "/review/progress").then().statusCode(200);
      status = asked.join();
    }
    assertThat(status).isEqualTo(409);
    given().get(path + "/review").then().statusCode(409).body("type", equalTo("/problems/stopped"));
    given().get(path + "/review?anew=true").then().body("rules.size()", greaterThan(MANY * 9 / 10));
    given().get(path + "/review").then().statusCode(200);
    given().get(path + "/review/progress").then().body("total", equalTo(0));
  }

  @Test
  void whatIsTriedOutIsGivenUpWhenNobodyWaitsForIt() throws Exception {
    demo.restore();
    loader.generate(RULES);
    RulebaseSnapshot snapshot = editor.snapshot("generated-" + RULES);
    snapshot.review();
    Throwable ended = null;
    for (int time = 1; ended == null; time++) {
      assertThat(time).as("the review was over before it was given up").isLessThan(MOST_TIMES);
      RulebaseSnapshot tried =
          editor.tryOut(snapshot, List.of(new RulebaseStep.SetDefaultVerdict("allow")));
      CompletableFuture<Review> asked = CompletableFuture.supplyAsync(tried::review);
      awaitBegin(tried, asked);
      tried.abandon();
      ended = asked.handle((review, failure) -> failure).get(1, TimeUnit.MINUTES);
    }
    assertThat(ended).hasRootCauseInstanceOf(CancellationException.class);
    assertThat(editor.snapshot("generated-" + RULES).review()).isSameAs(snapshot.review());
  }
}
