package ironsieve.server.demo;

import com.unboundid.ldap.sdk.LDAPException;
import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import ironsieve.standins.DirectoryStandIn;
import ironsieve.standins.NameStandIn;
import ironsieve.standins.WebStandIn;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;

/** Starts the stand-ins beside the server where {@code iron-sieve.stand-ins} says so. */
@ApplicationScoped
class StandIns {

  static final int LDAP_PORT = 7341;
  static final int WEB_PORT = 7342;
  static final int DNS_PORT = 7343;

  private static final Logger LOG = Logger.getLogger("ironsieve");

  @ConfigProperty(name = "iron-sieve.stand-ins", defaultValue = "false")
  boolean wanted;

  private final List<AutoCloseable> running = new ArrayList<>();

  /** Starts something that can be closed again. */
  private interface Starting {
    AutoCloseable start() throws IOException, LDAPException;
  }

  void onStart(@Observes StartupEvent event) {
    if (wanted) {
      start("directory", LDAP_PORT, () -> new DirectoryStandIn(LDAP_PORT));
      start("web server", WEB_PORT, () -> new WebStandIn(WEB_PORT));
      start("name server", DNS_PORT, () -> new NameStandIn(DNS_PORT));
    }
  }

  private void start(String what, int port, Starting starting) {
    try {
      running.add(starting.start());
    } catch (IOException | LDAPException e) {
      // The product does not need it, and another server beside this one may have started it.
      LOG.warnf("The stand-in of a %s did not start at port %d: %s", what, port, e.getMessage());
    }
  }

  void onStop(@Observes ShutdownEvent event) {
    Collections.reverse(running);
    for (AutoCloseable one : running) {
      try {
        one.close();
      } catch (Exception e) {
        LOG.debug("A stand-in did not stop.", e);
      }
    }
  }
}
