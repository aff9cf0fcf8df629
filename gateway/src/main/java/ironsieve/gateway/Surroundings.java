package ironsieve.gateway;

import ironsieve.gateway.Policy.Decision;
import java.util.function.Consumer;

/**
 * What all connections of a gateway share.
 *
 * @param servers where destinations are reached
 * @param told takes each connection that is decided
 * @param say takes what else is to be told
 */
record Surroundings(
    Destinations servers,
    ConnectionLog log,
    Consents consents,
    NoticePages pages,
    Consumer<Decision> told,
    Consumer<String> say) {

  static Surroundings of(
      Destinations servers, ConnectionLog log, Consumer<Decision> told, Consumer<String> say) {
    Consents consents = new Consents();
    return new Surroundings(servers, log, consents, new NoticePages(consents), told, say);
  }
}
