package ironsieve.server.sources;

import ironsieve.files.Documents.FeedDoc;
import ironsieve.files.Documents.LdapDoc;
import ironsieve.files.Documents.SourceDoc;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.Optional;

/** The passwords that sources ask for; each goes only to what it was entered for. */
@ApplicationScoped
class SourcePasswords {

  @Inject SourceStore store;

  /** Keeps the password that a source asks for. */
  void keep(SourceDoc source, String password) {
    store.password(source.name(), new SourceStore.Password(password, keptFor(source)));
  }

  /** What a password is kept for; as the migration of older ones writes it. */
  private static String keptFor(SourceDoc source) {
    LdapDoc how = source.directory();
    FeedDoc feed = source.feed() == null ? FeedDoc.ANYBODY : source.feed();
    return how == null
        ? String.join("\n", source.kind(), source.address(), feed.login(), "", feed.certificates())
        : String.join(
            "\n", source.kind(), source.address(), how.bind(), how.security(), how.certificates());
  }

  /**
   * The password that is kept for a source; empty if it logs in with none.
   *
   * @throws SourceException if the one under its name was kept for another address or login: it is
   *     sent nowhere else
   */
  String of(SourceDoc source) {
    boolean asks =
        source.directory() == null
            ? source.feed() != null && !source.feed().login().isEmpty()
            : !source.directory().bind().isEmpty();
    if (!asks) {
      return "";
    }
    Optional<SourceStore.Password> kept = store.password(source.name());
    if (kept.isPresent() && !kept.get().keptFor().equals(keptFor(source))) {
      throw new SourceException(
          "the password was stored for another address, login or encryption and is sent nowhere"
              + " else; enter it again");
    }
    return kept.map(SourceStore.Password::text).orElse("");
  }
}
