package ironsieve.server.releases;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Digests;
import ironsieve.server.store.Sql;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** Releases and their parts in the database, and the key that signs them. */
@ApplicationScoped
class ReleaseStore {

  private static final String COLUMNS =
      "select rulebase, number, revision, left_out, title, reference, note, overrides, who, at,"
          + " manifest, signature from release ";

  private static final TypeReference<List<Long>> LEFT_OUT = new TypeReference<>() {};
  private static final TypeReference<List<Release.Override>> OVERRIDES = new TypeReference<>() {};

  @Inject Sql sql;
  @Inject ObjectMapper json;

  /**
   * The key that signs.
   *
   * @param privateKey in base64 of its PKCS #8 form
   * @param publicKey in base64 of its X.509 form
   */
  record Keys(String privateKey, String publicKey) {}

  /** The key, which is made when it is first asked for. */
  Keys keys() {
    return sql.inTransaction(
        tx -> {
          Optional<Keys> known = keys(tx);
          if (known.isEmpty()) {
            Keys made = generate();
            tx.change(
                "insert into signing_key (private_key, public_key) values (?, ?)"
                    + " on conflict do nothing",
                made.privateKey(),
                made.publicKey());
          }
          // Of two servers that begin together the first one's counts for both.
          return keys(tx).orElseThrow();
        });
  }

  private static Optional<Keys> keys(Sql.Transaction tx) throws SQLException {
    return tx.row(
        "select private_key, public_key from signing_key",
        row -> new Keys(row.getString(1), row.getString(2)));
  }

  private static Keys generate() {
    try {
      KeyPair pair = KeyPairGenerator.getInstance("Ed25519").generateKeyPair();
      Base64.Encoder base64 = Base64.getEncoder();
      return new Keys(
          base64.encodeToString(pair.getPrivate().getEncoded()),
          base64.encodeToString(pair.getPublic().getEncoded()));
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }

  /** Lets nobody else release a rulebase before the end. */
  void lock(Sql.Transaction tx, String rulebase) throws SQLException {
    tx.row("select id from rulebase where id = ? for update", row -> row.getString(1), rulebase);
  }

  /** Keeps a release; of its parts those that are not there already. */
  void keep(Sql.Transaction tx, Release release, Collection<String> parts) throws SQLException {
    List<Object[]> rows = new ArrayList<>();
    for (String part : parts) {
      rows.add(new Object[] {Digests.of(part), part});
    }
    tx.changeAll(
        "insert into release_part (digest, content) values (?, ?) on conflict do nothing", rows);
    tx.change(
        "insert into release (rulebase, number, revision, left_out, title, reference, note,"
            + " overrides, who, at, manifest, signature)"
            + " values (?, ?, ?, ?::jsonb, ?, ?, ?, ?::jsonb, ?, ?, ?, ?)",
        release.rulebase(),
        release.number(),
        release.revision(),
        text(release.leftOut()),
        release.title(),
        release.reference(),
        release.note(),
        text(release.overrides()),
        release.who(),
        Timestamp.from(release.at()),
        release.manifest(),
        release.signature());
  }

  /** The releases of a rulebase, the newest first. */
  List<Release> of(String rulebase) {
    return sql.inTransaction(
        tx ->
            tx.rows(COLUMNS + "where rulebase = ? order by number desc", this::release, rulebase));
  }

  /** The newest release of a rulebase. */
  Optional<Release> newest(Sql.Transaction tx, String rulebase) throws SQLException {
    return tx.row(
        COLUMNS + "where rulebase = ? order by number desc limit 1", this::release, rulebase);
  }

  Optional<Release> release(String rulebase, int number) {
    return sql.inTransaction(
        tx ->
            tx.row(COLUMNS + "where rulebase = ? and number = ?", this::release, rulebase, number));
  }

  private Release release(ResultSet row) throws SQLException {
    return new Release(
        row.getString("rulebase"),
        row.getInt("number"),
        row.getLong("revision"),
        read(row.getString("left_out"), LEFT_OUT),
        row.getString("title"),
        row.getString("reference"),
        row.getString("note"),
        read(row.getString("overrides"), OVERRIDES),
        row.getString("who"),
        row.getTimestamp("at").toInstant(),
        row.getString("manifest"),
        row.getString("signature"));
  }

  private String text(Object value) {
    try {
      return json.writeValueAsString(value);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }

  private <T> T read(String text, TypeReference<T> type) {
    try {
      return json.readValue(text, type);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("a release in the database cannot be read", e);
    }
  }

  /** The content with a digest. */
  Optional<String> part(String digest) {
    return sql.inTransaction(
        tx ->
            tx.row(
                "select content from release_part where digest = ?",
                row -> row.getString(1),
                digest));
  }
}
