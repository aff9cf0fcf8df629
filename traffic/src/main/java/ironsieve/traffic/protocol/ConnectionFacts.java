package ironsieve.traffic.protocol;

import ironsieve.model.Service;
import ironsieve.region.Address;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What a connection has shown: facts about all of it, and facts about each request made in it,
 * which belong together. Bounded: of a connection with thousands of requests those that differ are
 * kept, up to a number.
 */
public final class ConnectionFacts {

  /** More requests that differ are counted and not kept. */
  public static final int MOST_REQUESTS = 64;

  private static final int MOST_FACTS = 64;
  private static final int MOST_SIZES = 8;
  private static final int MOST_NAMED = 64;

  /** Longer texts are cut. */
  static final int LONGEST_TEXT = 2_048;

  /** What stands in the clear before anything is encrypted, and what carries it. */
  private static final Set<Field> OUTSIDE =
      EnumSet.of(Field.PROTOCOL, Field.SERVER_NAME, Field.ALPN, Field.TLS_VERSION);

  private final Service service;
  private final Address server;
  private final List<Fact> facts = new ArrayList<>(4);
  private List<Request> requests = new ArrayList<>(0);
  private List<Named> named = List.of();
  private final int[] clientSizes = new int[MOST_SIZES];
  private final int[] serverSizes = new int[MOST_SIZES];
  private int clientCount;
  private int serverCount;
  private long requestsLeftOut;
  private boolean isOpened;
  private boolean mayHideName;
  private boolean isBroken;
  private long changes;

  /** A request with what was answered. */
  public static final class Request {
    private final List<Fact> facts = new ArrayList<>(6);
    private long times = 1;
    private boolean isAsked;
    private boolean isAnswered;

    /** Whether the head of its answer is read, so that nothing more shows of it. */
    public boolean isAnswered() {
      return isAnswered;
    }

    /** What it showed. */
    public List<Fact> facts() {
      return Collections.unmodifiableList(facts);
    }

    /** How often one that showed the same was made. */
    public long times() {
      return times;
    }

    /** Adds what was shown of it. */
    public void add(Fact fact) {
      if (facts.size() < MOST_FACTS) {
        facts.add(cut(fact));
      }
    }

    /** The first value of a field. */
    public Optional<String> first(Field field) {
      return facts.stream().filter(f -> f.field() == field).map(Fact::text).findFirst();
    }
  }

  /** An address that was said to have a name. */
  private record Named(Address address, String name) {}

  /** Nothing but where it goes. */
  public ConnectionFacts(Service service, Address server) {
    this.service = service;
    this.server = server;
  }

  /** What was written down of a connection, to add facts to. */
  public static ConnectionFacts again(Service service, Address server, boolean isOpened) {
    ConnectionFacts shown = new ConnectionFacts(service, server);
    shown.isOpened = isOpened;
    return shown;
  }

  /** What it shows to anybody on the way, without what keys opened. */
  public ConnectionFacts unopened() {
    ConnectionFacts outside = new ConnectionFacts(service, server);
    facts.stream().filter(fact -> OUTSIDE.contains(fact.field())).forEach(outside::add);
    return outside;
  }

  /**
   * What it has shown up to now; what it shows later is not added. Of its requests those whose
   * heads are read.
   */
  ConnectionFacts soFar() {
    ConnectionFacts copy = bare();
    requests.stream().filter(request -> request.isAsked).forEach(copy::addCopy);
    return copy;
  }

  /** Each request with what all of the connection has shown; all of it where none was made. */
  public List<ConnectionFacts> each() {
    if (requests.isEmpty()) {
      return List.of(this);
    }
    List<ConnectionFacts> each = new ArrayList<>(requests.size());
    for (Request request : requests) {
      ConnectionFacts one = bare();
      one.addCopy(request);
      each.add(one);
    }
    return each;
  }

  private ConnectionFacts bare() {
    ConnectionFacts copy = new ConnectionFacts(service, server);
    copy.facts.addAll(facts);
    System.arraycopy(clientSizes, 0, copy.clientSizes, 0, clientCount);
    System.arraycopy(serverSizes, 0, copy.serverSizes, 0, serverCount);
    copy.clientCount = clientCount;
    copy.serverCount = serverCount;
    copy.requestsLeftOut = requestsLeftOut;
    copy.isOpened = isOpened;
    copy.mayHideName = mayHideName;
    copy.isBroken = isBroken;
    return copy;
  }

  private void addCopy(Request request) {
    Request copy = new Request();
    copy.facts.addAll(request.facts);
    copy.times = request.times;
    copy.isAsked = request.isAsked;
    copy.isAnswered = request.isAnswered;
    requests.add(copy);
  }

  /** The head of a request is read. */
  void asked(Request request) {
    request.isAsked = true;
    changes++;
  }

  /** The head of an answer is read. */
  void answered(Request request) {
    request.isAnswered = true;
    changes++;
  }

  /** Lets go of requests that are answered; whether there were any. */
  boolean forgetAnswered() {
    return requests.removeIf(request -> request.isAnswered);
  }

  /** Grows whenever it has shown something more. */
  long changes() {
    return changes;
  }

  public Service service() {
    return service;
  }

  public Address server() {
    return server;
  }

  /** The protocols it is wrapped in, outermost first, by the names of their applications. */
  public List<String> layers() {
    List<String> layers = new ArrayList<>(2);
    for (Fact fact : facts) {
      if (fact.field() == Field.PROTOCOL) {
        layers.add(fact.text());
      }
    }
    return layers;
  }

  void layer(String name) {
    add(Fact.of(Field.PROTOCOL, name));
  }

  /** What all of it has shown. */
  public List<Fact> facts() {
    return Collections.unmodifiableList(facts);
  }

  /** Adds a fact about all of it. */
  public void add(Fact fact) {
    Fact cut = cut(fact);
    if (facts.size() < MOST_FACTS && !facts.contains(cut)) {
      changes++;
      facts.add(cut);
    }
  }

  /** As it is kept: no longer than needed, and without secrets. */
  private static Fact cut(Fact fact) {
    return SecretValues.masked(
        fact.value().length <= LONGEST_TEXT
            ? fact
            : new Fact(
                fact.field(), fact.header(), java.util.Arrays.copyOf(fact.value(), LONGEST_TEXT)));
  }

  /** The requests made in it that differ, in their order. */
  public List<Request> requests() {
    return Collections.unmodifiableList(requests);
  }

  /** How many more requests there were than are kept. */
  public long requestsLeftOut() {
    return requestsLeftOut;
  }

  /** A request that begins; nothing where no more are kept. */
  Optional<Request> request() {
    if (requests.size() >= MOST_REQUESTS) {
      merge();
    }
    if (requests.size() >= MOST_REQUESTS) {
      requestsLeftOut++;
      return Optional.empty();
    }
    Request request = new Request();
    requests.add(request);
    return Optional.of(request);
  }

  /** Requests that showed the same become one; the last two may still be on their way. */
  void merge() {
    List<Request> kept = new ArrayList<>();
    java.util.Map<List<Fact>, Request> seen = new java.util.HashMap<>();
    for (Request request : requests) {
      Request same = seen.putIfAbsent(request.facts, request);
      if (same == null) {
        kept.add(request);
      } else {
        same.times += request.times;
      }
    }
    requests = kept;
  }

  /** Adds a request that is known whole; for what makes connections up. */
  public void request(List<Fact> of) {
    request().ifPresent(request -> of.forEach(request::add));
  }

  void takeNamed(java.util.function.BiConsumer<Address, String> to) {
    if (!named.isEmpty()) {
      named.forEach(one -> to.accept(one.address(), one.name()));
      named.clear();
    }
  }

  void names(Address address, String name) {
    if (named.isEmpty()) {
      named = new ArrayList<>(2);
    }
    if (named.size() < MOST_NAMED) {
      named.add(new Named(address, name));
    }
  }

  /** The size of the next packet with something in it, in bytes of payload. */
  public void sized(boolean byClient, int bytes) {
    if (byClient && clientCount < MOST_SIZES) {
      changes++;
      clientSizes[clientCount++] = bytes;
    } else if (!byClient && serverCount < MOST_SIZES) {
      changes++;
      serverSizes[serverCount++] = bytes;
    }
  }

  /** The size of a packet, counted from 1; -1 where there was none. */
  public int size(boolean byClient, int number) {
    int count = byClient ? clientCount : serverCount;
    return number < 1 || number > count ? -1 : (byClient ? clientSizes : serverSizes)[number - 1];
  }

  /** How many sizes are known. */
  public int sizes(boolean byClient) {
    return byClient ? clientCount : serverCount;
  }

  /** Whether something encrypted could be read with keys. */
  public boolean isOpened() {
    return isOpened;
  }

  void opened() {
    isOpened = true;
    // Had the hidden hello been taken, other keys than those of the one in sight would fit.
    nameIsShown();
  }

  /**
   * Whether the name it asks for may stand in place of another (Encrypted Client Hello). A client
   * that encrypts nothing says the same, so nobody on the way can tell the two apart; only a server
   * that speaks an older version, or keys that fit, show that the name is the one asked for.
   */
  public boolean mayHideName() {
    return mayHideName;
  }

  void nameMayBeHidden() {
    mayHideName = true;
  }

  void nameIsShown() {
    mayHideName = false;
  }

  /** Whether bytes of it are missing, so that it may have shown more. */
  public boolean isBroken() {
    return isBroken;
  }

  void broken() {
    changes++;
    isBroken = true;
  }

  /** The first value of a field, in the connection or in a request. */
  public Optional<String> first(Field field) {
    for (Fact fact : facts) {
      if (fact.field() == field) {
        return Optional.of(fact.text());
      }
    }
    return requests.stream().flatMap(r -> r.first(field).stream()).findFirst();
  }

  /** The name the client asked for, by whatever it said it in. */
  public Optional<String> hostName() {
    return first(Field.SERVER_NAME).or(() -> first(Field.HOST)).filter(ConnectionFacts::isHostName);
  }

  private static boolean isHostName(String name) {
    return name.length() <= 253
        && name.matches(
            "(?=.*[a-z])[a-z0-9_]([a-z0-9_-]*[a-z0-9_])?(\\.[a-z0-9_]([a-z0-9_-]*[a-z0-9_])?)*");
  }

  /** Bytes as text of which each character is one byte. */
  public static String latin(byte[] bytes, int offset, int length) {
    return new String(bytes, offset, length, StandardCharsets.ISO_8859_1);
  }
}
