package ironsieve.gateway;

import io.netty.bootstrap.Bootstrap;
import io.netty.buffer.ByteBuf;
import io.netty.buffer.ByteBufUtil;
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
import ironsieve.traffic.protocol.Conversation;
import ironsieve.traffic.protocol.KeyLog;
import java.net.InetSocketAddress;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;

/**
 * One connection of a client: its first bytes are held until they show what it is, or until it has
 * said nothing for a while, as where the server speaks first. Then it is decided, and relayed or
 * stopped. Lives on its channel's thread.
 */
final class ClientConnection extends ChannelInboundHandlerAdapter {

  /** Protocols in which the server speaks first wait for this long. */
  private static final long SILENCE_MILLIS = 300;

  /** What has shown nothing by so many bytes shows nothing any more. */
  private static final int ENOUGH = 8_192;

  private static final Address UNKNOWN = Address.parse("192.0.2.1");

  private Policy policy;
  private final Channel own;
  private final Client client;
  private final Target target;
  private final Destinations servers;
  private final ConnectionLog log;
  private final Consumer<Decision> told;
  private final List<ByteBuf> held = new ArrayList<>();
  private final Conversation conversation;
  private Channel server;
  private Decision decision;
  private boolean isLogged;
  private int heldBytes;
  private long up;
  private long down;

  ClientConnection(
      Channel own,
      Policy policy,
      Client client,
      Target target,
      Destinations servers,
      ConnectionLog log,
      Consumer<Decision> told) {
    this.own = own;
    this.told = told;
    this.policy = policy;
    this.client = client;
    this.target = target;
    this.servers = servers;
    this.log = log;
    conversation = new Conversation(new Service(Service.TCP, target.port()), UNKNOWN, new KeyLog());
  }

  @Override
  public void handlerAdded(ChannelHandlerContext context) {
    context.executor().schedule(() -> decideOnce(context), SILENCE_MILLIS, TimeUnit.MILLISECONDS);
  }

  @Override
  public void channelRead(ChannelHandlerContext context, Object message) {
    ByteBuf bytes = (ByteBuf) message;
    up += bytes.readableBytes();
    if (server != null) {
      if (showsNothingNew(bytes) || decideAgain(policy)) {
        relay(context.channel(), server, bytes);
      } else {
        bytes.release();
        stop();
      }
      return;
    }
    if (decision != null && decision.outcome().verdict() != Verdict.ALLOW) {
      bytes.release();
      return;
    }
    held.add(bytes);
    heldBytes += bytes.readableBytes();
    if (decision == null) {
      byte[] copy = ByteBufUtil.getBytes(bytes);
      conversation.onBytes(true, copy, 0, copy.length);
      if (!conversation.facts().facts().isEmpty() && isShown() || heldBytes >= ENOUGH) {
        decideOnce(context);
      }
    }
  }

  /** A name, a request, or a protocol that its first bytes tell. */
  private boolean isShown() {
    return conversation.isDone()
        || conversation.facts().hostName().isPresent()
        || !conversation.facts().requests().isEmpty();
  }

  /** Whether what is known of the connection stays as it was: not so at another request. */
  private boolean showsNothingNew(ByteBuf bytes) {
    if (conversation.isDone()) {
      return true;
    }
    int known = conversation.facts().requests().size();
    byte[] copy = ByteBufUtil.getBytes(bytes);
    conversation.onBytes(true, copy, 0, copy.length);
    return conversation.facts().requests().size() == known;
  }

  /** Decides what was let through again; whether it still is. What it was until now is recorded. */
  private boolean decideAgain(Policy by) {
    Decision next;
    try {
      next = by.decide(client, target, conversation.facts(), LocalDateTime.now());
    } catch (TextException e) {
      return false;
    }
    boolean isOther =
        !next.connection().using().equals(decision.connection().using())
            || !next.outcome().equals(decision.outcome());
    if (isOther) {
      record();
      isLogged = false;
      up = 0;
      down = 0;
      told.accept(next);
    }
    policy = by;
    decision = next;
    return next.outcome().verdict() == Verdict.ALLOW;
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
              if (decision == null) {
                policy = next;
                return false;
              }
              // What is stopped stays so: its client has been told.
              boolean isOpen = own.isActive() && decision.outcome().verdict() == Verdict.ALLOW;
              boolean isCut = isOpen && !decideAgain(next);
              if (isCut) {
                stop();
              }
              return isCut;
            });
  }

  /** Resets the connection, so that its client knows. */
  private void stop() {
    letGo();
    own.config().setOption(ChannelOption.SO_LINGER, 0);
    own.close();
  }

  private void decideOnce(ChannelHandlerContext context) {
    if (decision != null || !context.channel().isActive()) {
      return;
    }
    try {
      decision = policy.decide(client, target, conversation.facts(), LocalDateTime.now());
    } catch (TextException e) {
      // There can be no such connection in these surroundings.
      context.close();
      return;
    }
    told.accept(decision);
    switch (decision.outcome().verdict()) {
      case ALLOW -> connect();
      // To the client it is as if nobody were there.
      case DENY -> letGo();
      case REJECT, ASK, STOP, ENROL -> stop();
    }
  }

  private void letGo() {
    held.forEach(ReferenceCountUtil::release);
    held.clear();
    record();
  }

  private void connect() {
    Optional<InetSocketAddress> there = servers.of(target);
    if (there.isEmpty()) {
      // Let through, and nobody is there.
      own.close();
      return;
    }
    own.config().setAutoRead(false);
    new Bootstrap()
        .group(own.eventLoop())
        .channel(own.getClass())
        .handler(
            new ChannelInboundHandlerAdapter() {
              @Override
              public void channelRead(ChannelHandlerContext from, Object message) {
                down += ((ByteBuf) message).readableBytes();
                relay(from.channel(), own, (ByteBuf) message);
              }

              @Override
              public void channelInactive(ChannelHandlerContext from) {
                own.writeAndFlush(own.alloc().buffer(0)).addListener(ChannelFutureListener.CLOSE);
              }

              @Override
              public void exceptionCaught(ChannelHandlerContext from, Throwable cause) {
                from.close();
              }
            })
        .connect(there.get())
        .addListener(
            (ChannelFutureListener)
                connected -> {
                  if (!connected.isSuccess()) {
                    own.close();
                    return;
                  }
                  server = connected.channel();
                  if (!own.isActive()) {
                    server.close();
                    return;
                  }
                  held.forEach(bytes -> relay(own, server, bytes));
                  held.clear();
                  own.config().setAutoRead(true);
                });
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
    if (decision != null && !isLogged) {
      isLogged = true;
      log.add(decision.connection(), up, down);
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
