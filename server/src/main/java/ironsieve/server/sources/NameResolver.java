package ironsieve.server.sources;

import ironsieve.progress.Progress;
import java.io.IOException;
import java.net.URI;
import java.net.UnknownHostException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.xbill.DNS.AAAARecord;
import org.xbill.DNS.ARecord;
import org.xbill.DNS.CNAMERecord;
import org.xbill.DNS.DClass;
import org.xbill.DNS.Message;
import org.xbill.DNS.Name;
import org.xbill.DNS.Rcode;
import org.xbill.DNS.Record;
import org.xbill.DNS.Section;
import org.xbill.DNS.SimpleResolver;
import org.xbill.DNS.TextParseException;
import org.xbill.DNS.Type;

/**
 * Asks a name server (RFC 1035) for the addresses of host names: over UDP, and over TCP where an
 * answer is too long for it. For one thread.
 */
final class NameResolver {

  private static final Duration ANSWERING = Duration.ofSeconds(3);
  private static final int DNS_PORT = 53;
  private static final int MOST_ALIASES = 16;

  /** So many names without any answer, and the server is taken to be away. */
  private static final int MOST_SILENCE = 3;

  /** So long it holds that there is no such name, or that it has no address. */
  private static final long NOTHING_SECONDS = 300;

  private final SimpleResolver server;
  private final String address;
  private int silence;

  /**
   * A name server to ask.
   *
   * @param address such as {@code dns://192.0.2.53:5353}
   * @throws SourceException if there is no such host
   */
  NameResolver(String address) {
    this.address = address;
    URI uri = URI.create(address);
    try {
      server = new SimpleResolver(uri.getHost().replaceAll("^\\[|\\]$", ""));
    } catch (UnknownHostException e) {
      throw new SourceException("there is no host " + uri.getHost(), e);
    }
    server.setPort(uri.getPort() < 0 ? DNS_PORT : uri.getPort());
    server.setTimeout(ANSWERING);
  }

  /**
   * What a name resolves to.
   *
   * @param addresses IPv4 first, each in order; none if there is no such name, or it has none
   * @param seconds how long that holds
   * @param problem why nothing was found out, in a sentence; empty if it was
   */
  record Answer(List<String> addresses, long seconds, String problem) {

    private static Answer unknown(String problem) {
      return new Answer(List.of(), 0, problem);
    }

    boolean isKnown() {
      return problem.isEmpty();
    }
  }

  /**
   * Asks for one name.
   *
   * @throws SourceException if the server answers nothing at all
   * @throws java.util.concurrent.CancellationException if {@code progress} is stopped
   */
  Answer ask(String host, Progress progress) {
    progress.check();
    List<String> addresses = new ArrayList<>();
    long seconds = Long.MAX_VALUE;
    for (int type : new int[] {Type.A, Type.AAAA}) {
      Message answer;
      try {
        Name name = Name.fromString(host, Name.root);
        answer = server.send(Message.newQuery(Record.newRecord(name, type, DClass.IN)));
      } catch (TextParseException e) {
        return Answer.unknown("this is no name that can be asked for");
      } catch (IOException e) {
        if (++silence >= MOST_SILENCE) {
          throw new SourceException("no name server answers at " + address, e);
        }
        return Answer.unknown("the name server did not answer");
      }
      silence = 0;
      int code = answer.getRcode();
      if (code != Rcode.NOERROR && code != Rcode.NXDOMAIN) {
        return Answer.unknown("the name server answered " + Rcode.string(code));
      }
      seconds = Math.min(seconds, collect(type, answer, addresses));
    }
    return new Answer(addresses, seconds == Long.MAX_VALUE ? NOTHING_SECONDS : seconds, "");
  }

  /** Adds the addresses of a name and of what it is an alias of; the shortest time to live. */
  private static long collect(int type, Message answer, List<String> addresses) {
    List<Record> records = answer.getSection(Section.ANSWER);
    Set<Name> names = new LinkedHashSet<>();
    names.add(answer.getQuestion().getName());
    long seconds = Long.MAX_VALUE;
    for (int alias = 0; alias < MOST_ALIASES; alias++) {
      for (Record record : records) {
        if (record instanceof CNAMERecord other && names.contains(record.getName())) {
          seconds = names.add(other.getTarget()) ? Math.min(seconds, record.getTTL()) : seconds;
        }
      }
    }
    List<String> found = new ArrayList<>();
    for (Record record : records) {
      if (names.contains(record.getName()) && record.getType() == type) {
        seconds = Math.min(seconds, record.getTTL());
        if (record instanceof ARecord v4) {
          found.add(v4.getAddress().getHostAddress());
        } else if (record instanceof AAAARecord v6) {
          found.add(v6.getAddress().getHostAddress());
        }
      }
    }
    // In an order of their own: servers turn theirs around with each answer.
    found.stream().sorted().distinct().forEach(addresses::add);
    return seconds;
  }
}
