package ironsieve.server.browser;

import io.quarkus.test.junit.callback.QuarkusTestAfterTestExecutionCallback;
import io.quarkus.test.junit.callback.QuarkusTestMethodContext;

/**
 * Prints what the pages show on which a test has failed: "not visible" alone does not tell what was
 * there instead. Found by its name among the services of the test framework.
 */
public final class PagesOfFailedTests implements QuarkusTestAfterTestExecutionCallback {

  @Override
  public void afterTestExecution(QuarkusTestMethodContext context) {
    if (context.getTestStatus().isTestFailed()) {
      Browsing.shown().forEach(System.out::println);
    }
  }
}
