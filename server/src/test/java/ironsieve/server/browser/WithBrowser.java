package ironsieve.server.browser;

import io.quarkus.test.common.http.TestHTTPResource;
import ironsieve.server.DemoData;
import jakarta.inject.Inject;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;

/** The demo company as it was loaded, and a browser to work on it with. */
abstract class WithBrowser {

  @Inject DemoData demo;

  @TestHTTPResource("/")
  String address;

  Browsing browsing;

  @BeforeEach
  void open() {
    demo.restore();
    browsing = new Browsing(address.replaceAll("/$", ""));
  }

  @AfterEach
  void close() {
    browsing.close();
  }
}
