package ironsieve.gateway;

import io.netty.bootstrap.ServerBootstrap;
import io.netty.channel.Channel;
import io.netty.channel.ChannelFuture;
import io.netty.channel.ChannelFutureListener;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.EventLoopGroup;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.channel.nio.NioEventLoopGroup;
import io.netty.channel.socket.SocketChannel;
import io.netty.channel.socket.nio.NioServerSocketChannel;
import io.netty.handler.codec.socksx.v5.DefaultSocks5CommandResponse;
import io.netty.handler.codec.socksx.v5.DefaultSocks5InitialResponse;
import io.netty.handler.codec.socksx.v5.DefaultSocks5PasswordAuthResponse;
import io.netty.handler.codec.socksx.v5.Socks5AuthMethod;
import io.netty.handler.codec.socksx.v5.Socks5CommandRequest;
import io.netty.handler.codec.socksx.v5.Socks5CommandRequestDecoder;
import io.netty.handler.codec.socksx.v5.Socks5CommandStatus;
import io.netty.handler.codec.socksx.v5.Socks5CommandType;
import io.netty.handler.codec.socksx.v5.Socks5InitialRequest;
import io.netty.handler.codec.socksx.v5.Socks5InitialRequestDecoder;
import io.netty.handler.codec.socksx.v5.Socks5Message;
import io.netty.handler.codec.socksx.v5.Socks5PasswordAuthRequest;
import io.netty.handler.codec.socksx.v5.Socks5PasswordAuthRequestDecoder;
import io.netty.handler.codec.socksx.v5.Socks5PasswordAuthStatus;
import io.netty.handler.codec.socksx.v5.Socks5ServerEncoder;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;

/**
 * Takes clients in over SOCKS5 (RFC 1928) on loopback, each port for a zone; a name that a client
 * signs in with (RFC 1929) is the person, whatever its password.
 */
final class SocksServer implements AutoCloseable {

  private static final int HANDSHAKE_SECONDS = 10;

  private final EventLoopGroup threads = new NioEventLoopGroup(2);
  private final Set<ClientConnection> open = ConcurrentHashMap.newKeySet();
  private final Supplier<Optional<Policy>> policy;
  private final Surroundings around;

  /** A server that listens nowhere yet. */
  SocksServer(Supplier<Optional<Policy>> policy, Surroundings around) {
    this.policy = policy;
    this.around = around;
  }

  /**
   * Listens for a zone.
   *
   * @param port 0 for any that is free
   * @return where it listens
   * @throws IllegalStateException if the port is taken
   */
  int listen(Client client, int port) {
    ChannelFuture bound =
        new ServerBootstrap()
            .group(threads)
            .channel(NioServerSocketChannel.class)
            .childHandler(
                new ChannelInitializer<SocketChannel>() {
                  @Override
                  protected void initChannel(SocketChannel one) {
                    one.pipeline()
                        .addLast(
                            Socks5ServerEncoder.DEFAULT,
                            new Socks5InitialRequestDecoder(),
                            new Handshake(client));
                  }
                })
            .bind(InetAddress.getLoopbackAddress(), port)
            .awaitUninterruptibly();
    if (!bound.isSuccess()) {
      throw new IllegalStateException("port " + port + " is taken", bound.cause());
    }
    return ((InetSocketAddress) bound.channel().localAddress()).getPort();
  }

  /**
   * What became of the open connections.
   *
   * @param cut how many were let through until now and are no more
   */
  record Again(int cut, int of) {}

  /** Decides all that is open again, and cuts what is not let through any more. */
  Again decideAgain(Policy next) {
    List<Future<Boolean>> all = open.stream().map(one -> one.comeUnder(next)).toList();
    int cut = 0;
    for (Future<Boolean> one : all) {
      try {
        cut += one.get() ? 1 : 0;
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      } catch (ExecutionException e) {
        // It has ended meanwhile, or is cut by its own thread; the others are decided.
      }
    }
    return new Again(cut, all.size());
  }

  /** The exchange before a client's own bytes. */
  private final class Handshake extends SimpleChannelInboundHandler<Socks5Message> {
    private Client client;

    private Handshake(Client client) {
      this.client = client;
    }

    /** Who does not say in time what is wanted keeps no place. */
    @Override
    public void handlerAdded(ChannelHandlerContext context) {
      context
          .executor()
          .schedule(
              () -> {
                if (!context.isRemoved()) {
                  context.close();
                }
              },
              HANDSHAKE_SECONDS,
              TimeUnit.SECONDS);
    }

    @Override
    protected void channelRead0(ChannelHandlerContext context, Socks5Message message) {
      if (!message.decoderResult().isSuccess()) {
        context.close();
      } else if (message instanceof Socks5InitialRequest first) {
        boolean saysWho = first.authMethods().contains(Socks5AuthMethod.PASSWORD);
        context
            .pipeline()
            .addFirst(
                saysWho
                    ? new Socks5PasswordAuthRequestDecoder()
                    : new Socks5CommandRequestDecoder());
        context.writeAndFlush(
            new DefaultSocks5InitialResponse(
                saysWho ? Socks5AuthMethod.PASSWORD : Socks5AuthMethod.NO_AUTH));
      } else if (message instanceof Socks5PasswordAuthRequest who) {
        if (policy.get().filter(now -> now.person(who.username()).isEmpty()).isPresent()) {
          context
              .writeAndFlush(
                  new DefaultSocks5PasswordAuthResponse(Socks5PasswordAuthStatus.FAILURE))
              .addListener(ChannelFutureListener.CLOSE);
          return;
        }
        client = client.as(who.username());
        context.pipeline().addFirst(new Socks5CommandRequestDecoder());
        context.writeAndFlush(
            new DefaultSocks5PasswordAuthResponse(Socks5PasswordAuthStatus.SUCCESS));
      } else if (message instanceof Socks5CommandRequest command) {
        begin(context, command);
      }
    }

    private void begin(ChannelHandlerContext context, Socks5CommandRequest command) {
      Optional<Policy> now = policy.get();
      if (command.type() != Socks5CommandType.CONNECT || now.isEmpty()) {
        Socks5CommandStatus status =
            now.isEmpty() ? Socks5CommandStatus.FAILURE : Socks5CommandStatus.COMMAND_UNSUPPORTED;
        context
            .writeAndFlush(new DefaultSocks5CommandResponse(status, command.dstAddrType()))
            .addListener(ChannelFutureListener.CLOSE);
        return;
      }
      Target target = new Target(command.dstAddr(), command.dstPort());
      Channel channel = context.channel();
      ClientConnection connection =
          new ClientConnection(channel, now.get(), client, target, around);
      switch (connection.begin()) {
        case SILENCE -> {
          channel.pipeline().addLast(connection);
          unwrap(channel);
          connection.keepSilent();
        }
        case REFUSAL ->
            context
                .writeAndFlush(
                    new DefaultSocks5CommandResponse(
                        Socks5CommandStatus.FORBIDDEN, command.dstAddrType()))
                .addListener(ChannelFutureListener.CLOSE);
        case GOES_ON -> {
          open.add(connection);
          channel.closeFuture().addListener(closed -> open.remove(connection));
          context
              .writeAndFlush(
                  new DefaultSocks5CommandResponse(
                      Socks5CommandStatus.SUCCESS, command.dstAddrType(), "0.0.0.0", 0))
              .addListener(
                  sent -> {
                    channel.pipeline().addLast(connection);
                    unwrap(channel);
                    // A release that came into force in between does not pass it by.
                    policy
                        .get()
                        .filter(newer -> newer != now.get())
                        .ifPresent(connection::comeUnder);
                  });
        }
      }
    }

    /** From here on bytes are the client's own. */
    private void unwrap(Channel channel) {
      channel.pipeline().remove(Handshake.this);
      for (Class<? extends io.netty.channel.ChannelHandler> codec :
          List.of(
              Socks5CommandRequestDecoder.class,
              Socks5PasswordAuthRequestDecoder.class,
              Socks5InitialRequestDecoder.class,
              Socks5ServerEncoder.class)) {
        if (channel.pipeline().get(codec) != null) {
          channel.pipeline().remove(codec);
        }
      }
    }

    @Override
    public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
      context.close();
    }
  }

  @Override
  public void close() {
    threads.shutdownGracefully(0, 2, TimeUnit.SECONDS).syncUninterruptibly();
  }
}
