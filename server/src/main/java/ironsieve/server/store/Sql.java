package ironsieve.server.store;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.FaultException;
import ironsieve.files.JsonText;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.io.IOException;
import java.io.OutputStream;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import javax.sql.DataSource;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyIn;

/** The one small helper over JDBC: transactions, prepared statements, rows, JSON columns. */
@ApplicationScoped
public class Sql {

  @Inject DataSource source;
  @Inject ObjectMapper json;

  /** One row to a value. */
  @FunctionalInterface
  public interface Row<T> {
    T read(ResultSet row) throws SQLException;
  }

  /** Work inside a transaction. */
  @FunctionalInterface
  public interface Work<T> {
    T run(Transaction transaction) throws SQLException;
  }

  /** What is written in a stream. */
  @FunctionalInterface
  public interface Writing {
    void write(OutputStream to) throws IOException;
  }

  /** Thrown when the database cannot do what was asked, and nothing was changed. */
  public static final class DatabaseException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    DatabaseException(SQLException cause) {
      super("the database refused: " + cause.getMessage(), cause);
    }

    /** Whether what was sent is at fault and not the database: class 22 of SQL, data exception. */
    public boolean isOfData() {
      String state = ((SQLException) getCause()).getSQLState();
      return state != null && state.startsWith("22");
    }
  }

  /**
   * Thrown when the connection broke while a change was being made lasting: it may or may not be.
   */
  public static final class UnknownOutcomeException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    UnknownOutcomeException(SQLException cause) {
      super("the database did not confirm: " + cause.getMessage(), cause);
    }
  }

  /** Runs work in one transaction: all of it is kept, or, if it throws, nothing. */
  public <T> T inTransaction(Work<T> work) {
    return run(work, Connection.TRANSACTION_READ_COMMITTED);
  }

  /** Runs queries that all see the database as it is at one moment. */
  public <T> T reading(Work<T> work) {
    return run(work, Connection.TRANSACTION_REPEATABLE_READ);
  }

  private <T> T run(Work<T> work, int isolation) {
    try (Connection connection = source.getConnection()) {
      connection.setAutoCommit(false);
      connection.setTransactionIsolation(isolation);
      T result;
      try {
        result = work.run(new Transaction(connection));
      } catch (SQLException | RuntimeException e) {
        connection.rollback();
        throw e;
      }
      try {
        connection.commit();
      } catch (SQLException e) {
        // A state of class 08 or 57 means that the connection is gone; all others were answered.
        String state = e.getSQLState() == null ? "08" : e.getSQLState();
        if (state.startsWith("08") || state.startsWith("57")) {
          throw new UnknownOutcomeException(e);
        }
        throw e;
      }
      return result;
    } catch (SQLException e) {
      throw new DatabaseException(e);
    }
  }

  /** An open transaction. */
  public final class Transaction {
    private final Connection connection;

    private Transaction(Connection connection) {
      this.connection = connection;
    }

    /** Changes rows; parameters are texts, numbers or nulls, and documents as JSON texts. */
    public int change(String statement, Object... parameters) throws SQLException {
      try (PreparedStatement prepared = prepare(statement, parameters)) {
        return prepared.executeUpdate();
      }
    }

    /** All rows. */
    public <T> List<T> rows(String query, Row<T> reader, Object... parameters) throws SQLException {
      try (PreparedStatement prepared = prepare(query, parameters);
          ResultSet rows = prepared.executeQuery()) {
        List<T> all = new ArrayList<>();
        while (rows.next()) {
          all.add(reader.read(rows));
        }
        return all;
      }
    }

    /** The first row, if there is one. */
    public <T> Optional<T> row(String query, Row<T> reader, Object... parameters)
        throws SQLException {
      return rows(query, reader, parameters).stream().findFirst();
    }

    /** Changes many rows with one statement, sent together. */
    public void changeAll(String statement, List<Object[]> parameters) throws SQLException {
      try (PreparedStatement prepared = connection.prepareStatement(statement)) {
        for (Object[] row : parameters) {
          bind(prepared, row);
          prepared.addBatch();
        }
        prepared.executeBatch();
      }
    }

    /**
     * Copies rows in while they are written; who throws has copied nothing.
     *
     * @param statement {@code copy … from stdin}
     */
    public void copy(String statement, Writing rows) throws SQLException {
      CopyIn copy = connection.unwrap(PGConnection.class).getCopyAPI().copyIn(statement);
      try {
        rows.write(
            new OutputStream() {
              @Override
              public void write(int one) throws IOException {
                write(new byte[] {(byte) one}, 0, 1);
              }

              @Override
              public void write(byte[] bytes, int from, int count) throws IOException {
                try {
                  copy.writeToCopy(bytes, from, count);
                } catch (SQLException e) {
                  throw new IOException(e);
                }
              }
            });
        copy.endCopy();
      } catch (IOException e) {
        throw e.getCause() instanceof SQLException cause ? cause : new SQLException(e);
      } finally {
        if (copy.isActive()) {
          copy.cancelCopy();
        }
      }
    }

    private PreparedStatement prepare(String statement, Object... parameters) throws SQLException {
      PreparedStatement prepared = connection.prepareStatement(statement);
      bind(prepared, parameters);
      return prepared;
    }

    private static void bind(PreparedStatement prepared, Object... parameters) throws SQLException {
      for (int i = 0; i < parameters.length; i++) {
        prepared.setObject(i + 1, parameters[i]);
      }
    }
  }

  /** A document as JSON text, for a column that is cast with {@code ?::jsonb}. */
  public String json(Object document) {
    try {
      return json.writeValueAsString(document);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }

  /** The document in a JSON column. */
  public <T> T document(ResultSet row, String column, Class<T> type) throws SQLException {
    return read(row.getString(column), type);
  }

  /**
   * A document from JSON text.
   *
   * @throws UnreadableDocumentException if it is not one of this type
   */
  public <T> T read(String text, Class<T> type) {
    try {
      return json.readValue(text, type);
    } catch (JsonProcessingException e) {
      throw new UnreadableDocumentException(JsonText.words(e), e);
    }
  }

  /**
   * The list in a file.
   *
   * @param path of the file, for faults
   * @throws FaultException naming the file, if it is no list of this type
   */
  public <T> List<T> list(String path, String text, Class<T[]> type) {
    try {
      T[] all = read(text, type);
      if (all == null || Arrays.asList(all).contains(null)) {
        throw new FaultException(path, "", "this is a list, and nothing in it is null");
      }
      return List.of(all);
    } catch (UnreadableDocumentException e) {
      throw new FaultException(path, "", e.getMessage());
    }
  }

  /** Thrown for a document in the database that is not what should stand there. */
  public static final class UnreadableDocumentException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    UnreadableDocumentException(String why, Exception cause) {
      super(why, cause);
    }
  }
}
