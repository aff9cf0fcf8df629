package ironsieve.server.store;

import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.Optional;
import java.util.Properties;
import java.util.function.Consumer;
import javax.sql.DataSource;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;
import org.postgresql.Driver;
import org.postgresql.PGConnection;
import org.postgresql.PGNotification;

/**
 * Hears from the database what servers change, as soon as it is committed. Nothing depends on its
 * being heard: it only makes the first answer after a change quick. The connection is one of its
 * own, for it is never given back; it is opened again whenever it breaks.
 */
@ApplicationScoped
public class ChangeListener {

  private static final Logger LOG = Logger.getLogger("ironsieve");

  private static final String CHANNEL = "iron_sieve_changes";

  /** How long nothing may be heard before the connection is looked at. */
  private static final int QUIET_MILLIS = (int) Duration.ofSeconds(30).toMillis();

  /** Seconds the database has to say that the connection still holds. */
  private static final int ANSWERS_WITHIN = 5;

  private static final Duration BEFORE_NEXT_TRY = Duration.ofSeconds(2);

  @Inject DataSource source;

  @ConfigProperty(name = "quarkus.datasource.jdbc.url")
  String url;

  @ConfigProperty(name = "quarkus.datasource.username")
  String user;

  @ConfigProperty(name = "quarkus.datasource.password")
  Optional<String> password;

  /** Listening that goes on until it is closed. */
  public final class Listening implements AutoCloseable {
    private final Consumer<String> heard;
    private final boolean alsoOwn;
    private final Thread thread;
    private volatile boolean ended;
    private volatile Connection connection;

    private Listening(Consumer<String> heard, boolean alsoOwn) {
      this.heard = heard;
      this.alsoOwn = alsoOwn;
      thread = new Thread(this::listen, "changes elsewhere");
      thread.setDaemon(true);
      // What is heard is worked out on this thread, and nobody waits for it yet.
      thread.setPriority(Thread.MIN_PRIORITY);
      thread.start();
    }

    private void listen() {
      while (!ended) {
        try (Connection own = connected()) {
          connection = own;
          hear(own);
        } catch (SQLException e) {
          LOG.debug("The database tells of no changes for a while.", e);
          pause();
        }
      }
    }

    private void hear(Connection own) throws SQLException {
      String us = nameOfThisServer();
      try (Statement statement = own.createStatement()) {
        statement.execute("listen " + CHANNEL);
      }
      // What happened before is not told, so everything may have changed.
      heard.accept("");
      PGConnection database = own.unwrap(PGConnection.class);
      while (!ended) {
        PGNotification[] told = database.getNotifications(QUIET_MILLIS);
        if (told.length == 0 && !own.isValid(ANSWERS_WITHIN)) {
          return;
        }
        for (PGNotification one : told) {
          // Whoever can read the database can say anything on the channel.
          String[] byAndWhat = one.getParameter().split("\n", 2);
          if (byAndWhat.length == 2 && (alsoOwn || !byAndWhat[0].equals(us))) {
            heard.accept(byAndWhat[1]);
          }
        }
      }
    }

    private void pause() {
      try {
        Thread.sleep(BEFORE_NEXT_TRY.toMillis());
      } catch (InterruptedException e) {
        ended = true;
      }
    }

    @Override
    public void close() {
      ended = true;
      thread.interrupt();
      Connection own = connection;
      if (own != null) {
        try {
          own.close();
        } catch (SQLException e) {
          LOG.debug("It was closed already.", e);
        }
      }
    }
  }

  /**
   * Begins to listen.
   *
   * @param heard is told the rulebase that another server has changed, or "gateway:" and the name
   *     of a gateway, or "" where it may be anything; on the listening thread
   */
  public Listening listen(Consumer<String> heard) {
    return new Listening(heard, false);
  }

  /** The same, told also of what this server changes itself. */
  public Listening listenToAll(Consumer<String> heard) {
    return new Listening(heard, true);
  }

  private Connection connected() throws SQLException {
    Properties properties = new Properties();
    properties.setProperty("user", user);
    properties.setProperty("password", password.orElse(""));
    properties.setProperty("tcpKeepAlive", "true");
    return new Driver().connect(url, properties);
  }

  /** How this server's changes are signed: all connections of its pool have the same name. */
  private String nameOfThisServer() throws SQLException {
    try (Connection pooled = source.getConnection();
        Statement statement = pooled.createStatement();
        ResultSet row = statement.executeQuery("show application_name")) {
      row.next();
      return row.getString(1);
    }
  }
}
