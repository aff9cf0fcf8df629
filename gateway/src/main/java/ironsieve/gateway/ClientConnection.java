package ironsieve.gateway;

import io.netty.bootstrap.Bootstrap;
import io.netty.buffer.ByteBuf;
import io.netty.buffer.ByteBufUtil;
import io.netty.buffer.Unpooled;
import io.netty.channel.Channel;
import io.netty.channel.ChannelFuture;
import io.netty.channel.ChannelFutureListener;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import io.netty.channel.ChannelOption;
import io.netty.util.ReferenceCountUtil;
import ironsieve.gateway.Policy.Decision;
import ironsieve.model.Service;
import ironsieve.model.Verdict;
import ironsieve.region.Address;
import ironsieve.text.TextException;
import ironsieve.traffic.protocol.ConnectionFacts;
import ironsieve.traffic.protocol.Conversation;
import ironsieve.traffic.protocol.Field;
import ironsieve.traffic.protocol.KeyLog;
import java.net.InetSocketAddress;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;

/**
 * One connection of a client, as it unfolds: decided by its first packet, and again whenever its
 * bytes show more – before these bytes are passed on. Until it is sure what becomes of it, it is
 * let through. Lives on its channel's thread.
 */
final class ClientConnection extends ChannelInboundHandlerAdapter {

  /** What has shown nothing for so long after its first byte shows nothing any more. */
  private static final int LONGEST_UNSURE_SECONDS = 10;

  /** A client that is not answered waits for so long at most. */
  private static final int LONGEST_SILENCE_SECONDS = 120;

  /** The head of a request that is not all there after so long never is. */
  private static final int LONGEST_HEAD_SECONDS = 60;

  /** So much is kept of what cannot be passed on yet. */
  private static final int MOST_HELD = 1 << 17;

  private static final Set<Field> SAYS_NOTHING =
      EnumSet.of(Field.PROTOCOL, Field.CLIENT_BYTES, Field.SERVER_BYTES);

  private static final Address UNKNOWN = Address.parse("192.0.2.1");

  private final Channel own;
  private final Client client;
  private final Target target;
  private final Surroundings around;

  /** The port that the client speaks from. */
  private final int from;

  private final List<ByteBuf> held = new ArrayList<>();
  private final Conversation conversation;
  private Policy policy;
  private Channel server;
  private Decision decision;
  private long changesSeen = -1;
  private boolean isToldAll;
  private boolean isConnecting;
  private boolean isUnreachable;
  private boolean isStopped;
  private boolean isLogged;
  private boolean isRequestOver;
  private int heldBytes;

  /** Ends the connection while the head of a request is not all there; else null. */
  private Future<?> head;

  private long up;
  private long down;

  /** How a connection begins. */
  enum Beginning {
    /** Goes on, for now or for good. */
    GOES_ON,
    /** As if nobody were there. */
    SILENCE,
    /** The client is told at once. */
    REFUSAL
  }

  ClientConnection(Channel own, Policy policy, Client client, Target target, Surroundings around) {
    this.own = own;
    this.policy = policy;
    this.client = client;
    this.target = target;
    this.around = around;
    // A channel that has ended does not know it any more.
    from = ((InetSocketAddress) own.remoteAddress()).getPort();
    conversation = new Conversation(new Service(Service.TCP, target.port()), UNKNOWN, new KeyLog());
  }

  /** Decides it by its first packet. */
  Beginning begin() {
    try {
      decision = policy.first(client, target, LocalDateTime.now());
    } catch (TextException e) {
      // There can be no such connection in these surroundings.
      return Beginning.REFUSAL;
    }
    if (decision.isSure()) {
      around.told().accept(decision);
    }
    // Who is shown a page has to ask for something first.
    isStopped = decision.verdict() == Verdict.DENY || decision.verdict() == Verdict.REJECT;
    if (isStopped) {
      record();
    }
    return switch (decision.verdict()) {
      case DENY -> Beginning.SILENCE;
      case REJECT -> Beginning.REFUSAL;
      default -> Beginning.GOES_ON;
    };
  }

  /** Waits, as if nobody were there, and not for ever. */
  void keepSilent() {
    after(LONGEST_SILENCE_SECONDS, own::close);
  }

  /** Does something later; once the connection has ended it is forgotten. */
  private Future<?> after(int seconds, Runnable work) {
    Future<?> later = own.eventLoop().schedule(work, seconds, TimeUnit.SECONDS);
    own.closeFuture().addListener(closed -> later.cancel(false));
    return later;
  }

  @Override
  public void handlerAdded(ChannelHandlerContext context) {
    if (!decision.isStopped()) {
      connect();
    } else if (!isStopped) {
      after(LONGEST_SILENCE_SECONDS, this::asksNothing);
    }
  }

  private void asksNothing() {
    if (!isConnecting && !isStopped) {
      own.close();
    }
  }

  @Override
  public void channelRead(ChannelHandlerContext context, Object message) {
    ByteBuf bytes = (ByteBuf) message;
    if (isStopped) {
      bytes.release();
      return;
    }
    up += bytes.readableBytes();
    shows(true, bytes);
    if (isStopped) {
      bytes.release();
    } else {
      held.add(bytes);
      heldBytes += bytes.readableBytes();
      passOn();
    }
  }

  /** A head goes on whole or not at all: there are servers that answer to half of one. */
  private void passOn() {
    if (server != null && !conversation.isMidHead()) {
      List<ByteBuf> all = List.copyOf(held);
      held.clear();
      heldBytes = 0;
      own.config().setAutoRead(true);
      all.forEach(bytes -> relay(own, server, bytes));
    } else if (heldBytes > MOST_HELD) {
      own.config().setAutoRead(false);
    }
    if (conversation.isMidHead() && head == null) {
      head = after(LONGEST_HEAD_SECONDS, () -> cut("its head took too long"));
    } else if (!conversation.isMidHead() && head != null) {
      head.cancel(false);
      head = null;
    }
  }

  private void cut(String why) {
    if (!isStopped) {
      around.say().accept("a connection to " + target.text() + " was cut: " + why);
      end();
      reset(own);
    }
  }

  /** Bytes of the server, before they are passed on. */
  private void answers(Channel from, ByteBuf bytes) {
    if (!isStopped) {
      down += bytes.readableBytes();
      shows(false, bytes);
    }
    if (isStopped) {
      bytes.release();
    } else {
      relay(from, own, bytes);
    }
  }

  private void shows(boolean byClient, ByteBuf bytes) {
    if (changesSeen < 0) {
      after(LONGEST_UNSURE_SECONDS, this::tellsNoMore);
    }
    byte[] copy = ByteBufUtil.getBytes(bytes);
    conversation.onBytes(byClient, copy, 0, copy.length);
    if (conversation.changes() != changesSeen) {
      changesSeen = conversation.changes();
      unfold();
    }
  }

  private void tellsNoMore() {
    boolean isOpen = !decision.isSure() || decision.isStopped();
    if (!isStopped && own.isActive() && isOpen) {
      isToldAll = true;
      unfold();
    }
  }

  /** Decides by what is shown by now. */
  private void unfold() {
    ConnectionFacts shown = conversation.soFar();
    boolean isDone = conversation.isDone();
    boolean isHttp = shown.layers().contains("HTTP");
    if (isHttp && (isDone && shown.isBroken() || shown.requestsLeftOut() > 0)) {
      // What follows is requests that cannot be read, and perhaps by the server.
      cut("no HTTP that is read");
      return;
    }
    if (!isDone && saysNothingYet(shown)) {
      return;
    }
    Decision next;
    try {
      next = policy.decide(client, target, shown, isToldAll || isDone, LocalDateTime.now());
    } catch (TextException e) {
      stop(Verdict.REJECT, shown);
      return;
    }
    become(next, shown);
    isRequestOver |= conversation.forgetAnswered();
  }

  /**
   * Whether it is not known yet what is spoken, or what is said: the head of a request or a hello
   * comes in pieces, or another request is to come.
   */
  private boolean saysNothingYet(ConnectionFacts shown) {
    List<String> layers = shown.layers();
    if (layers.isEmpty()) {
      return !isToldAll && !conversation.isOpaque();
    }
    return switch (layers.get(layers.size() - 1)) {
      case "HTTP" -> shown.requests().isEmpty();
      case "TLS" -> shown.facts().stream().allMatch(fact -> SAYS_NOTHING.contains(fact.field()));
      default -> false;
    };
  }

  private void become(Decision next, ConnectionFacts shown) {
    boolean isOther = next.isSure() && !isSame(next, decision);
    if (isOther && isRequestOver) {
      // What it was until now is recorded by itself.
      record();
      isRequestOver = false;
      isLogged = false;
      up = 0;
      down = 0;
    }
    decision = next;
    if (isOther) {
      around.told().accept(next);
    }
    boolean isAsked = next.verdict() == Verdict.ASK;
    if (!next.isStopped() || isAsked && around.consents().has(client, next)) {
      goOn();
    } else {
      stop(next.verdict(), shown);
    }
  }

  private static boolean isSame(Decision one, Decision other) {
    return one.connection().using().equals(other.connection().using())
        && one.connection().to().equals(other.connection().to())
        && one.outcome().equals(other.outcome());
  }

  private void goOn() {
    if (isUnreachable) {
      // Let through, and nobody is there.
      if (decision.isSure()) {
        own.close();
      }
    } else if (server == null) {
      connect();
    }
  }

  /**
   * Decides an open connection by another release, on its own thread.
   *
   * @return whether it was let through until now and is no more, in which case it is cut
   */
  Future<Boolean> comeUnder(Policy next) {
    return own.eventLoop()
        .submit(
            () -> {
              policy = next;
              // What is stopped stays so: its client has been told.
              if (isStopped || !own.isActive()) {
                return false;
              }
              ConnectionFacts shown = conversation.soFar();
              try {
                if (!saysNothingYet(shown)) {
                  unfold();
                } else if (decision.connection().using().application().isPresent()) {
                  // Between two requests it is what the last one was.
                  become(
                      next.again(client, target, decision.connection(), LocalDateTime.now()),
                      shown);
                } else {
                  become(next.first(client, target, LocalDateTime.now()), shown);
                }
              } catch (TextException e) {
                stop(Verdict.REJECT, shown);
              }
              if (isStopped) {
                // An open connection is reset, so that its client knows.
                reset(own);
              }
              return isStopped;
            });
  }

  private static void reset(Channel channel) {
    if (channel.isOpen()) {
      channel.config().setOption(ChannelOption.SO_LINGER, 0);
      channel.close();
    }
  }

  private void stop(Verdict verdict, ConnectionFacts shown) {
    boolean isPage = verdict.shows();
    Optional<ConnectionFacts.Request> asked = lastRequest(shown);
    if (isPage && asked.isEmpty() && shown.layers().isEmpty() && !isToldAll) {
      // It has not asked for anything yet.
      return;
    }
    end();
    if (verdict == Verdict.DENY) {
      keepSilent();
    } else if (isPage && asked.isPresent() && shown.layers().equals(List.of("HTTP"))) {
      own.writeAndFlush(
              Unpooled.wrappedBuffer(around.pages().answer(policy, client, decision, asked.get())))
          .addListener(ChannelFutureListener.CLOSE);
    } else {
      reset(own);
    }
  }

  /** Nothing more goes to the server, or comes from it. */
  private void end() {
    isStopped = true;
    letGo();
    if (server != null) {
      reset(server);
    }
  }

  private static Optional<ConnectionFacts.Request> lastRequest(ConnectionFacts shown) {
    List<ConnectionFacts.Request> all = shown.requests();
    return all.isEmpty() ? Optional.empty() : Optional.of(all.get(all.size() - 1));
  }

  private void letGo() {
    held.forEach(ReferenceCountUtil::release);
    held.clear();
    record();
  }

  private void connect() {
    if (isConnecting) {
      return;
    }
    isConnecting = true;
    Optional<InetSocketAddress> there = around.servers().of(target);
    if (there.isEmpty()) {
      unreachable();
      return;
    }
    new Bootstrap()
        .group(own.eventLoop())
        .channel(own.getClass())
        .handler(
            new ChannelInboundHandlerAdapter() {
              @Override
              public void channelRead(ChannelHandlerContext from, Object message) {
                answers(from.channel(), (ByteBuf) message);
              }

              @Override
              public void channelInactive(ChannelHandlerContext from) {
                if (!isStopped) {
                  own.writeAndFlush(Unpooled.EMPTY_BUFFER).addListener(ChannelFutureListener.CLOSE);
                }
              }

              @Override
              public void exceptionCaught(ChannelHandlerContext from, Throwable cause) {
                from.close();
              }
            })
        .connect(there.get())
        .addListener((ChannelFutureListener) connected -> connected(connected));
  }

  private void connected(ChannelFuture connected) {
    if (!connected.isSuccess()) {
      unreachable();
      return;
    }
    if (isStopped || !own.isActive()) {
      connected.channel().close();
      return;
    }
    server = connected.channel();
    own.config().setAutoRead(true);
    passOn();
  }

  /** Whether nobody is there is not told before it is known that it may be asked. */
  private void unreachable() {
    isUnreachable = true;
    goOn();
  }

  /** Reads on only once what was read is written: who reads slowly holds up who sends. */
  private static void relay(Channel from, Channel to, ByteBuf bytes) {
    ChannelFuture written = to.writeAndFlush(bytes);
    if (!to.isWritable()) {
      from.config().setAutoRead(false);
      written.addListener(done -> from.config().setAutoRead(true));
    }
  }

  private void record() {
    if (!isLogged) {
      isLogged = true;
      around.log().add(decision, from, up, down);
    }
  }

  @Override
  public void channelInactive(ChannelHandlerContext context) {
    if (server != null) {
      server.close();
    }
    letGo();
  }

  @Override
  public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
    context.close();
  }
}
