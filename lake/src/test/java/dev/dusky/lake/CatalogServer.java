package dev.dusky.lake;

import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.servlet.http.HttpServletResponseWrapper;
import java.io.BufferedReader;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.apache.iceberg.CatalogProperties;
import org.apache.iceberg.io.FileIO;
import org.apache.iceberg.jdbc.JdbcCatalog;
import org.apache.iceberg.rest.RESTCatalogAdapter;
import org.apache.iceberg.rest.RESTCatalogServlet;
import org.eclipse.jetty.ee10.servlet.ServletContextHandler;
import org.eclipse.jetty.ee10.servlet.ServletHolder;
import org.eclipse.jetty.server.Server;

/** The catalog protocol's own server for tests, which can be disturbed while it answers. */
final class CatalogServer implements AutoCloseable {

  /** What happens around a change that the server is asked for. */
  interface Disturbance {
    /** Before it is made; false if it is refused as if the server were overloaded. */
    default boolean before(String user) {
      return true;
    }

    /** After it is made; false if the answer is lost. */
    default boolean after(String user) {
      return true;
    }
  }

  private static final Disturbance NONE = new Disturbance() {};

  private final Server server;
  private final JdbcCatalog catalog;
  private final Set<String> dead = ConcurrentHashMap.newKeySet();
  private final Set<String> users = ConcurrentHashMap.newKeySet();
  private String url;
  private volatile Disturbance disturbance = NONE;
  private volatile String asked = "";

  private CatalogServer(Server server, JdbcCatalog catalog) {
    this.server = server;
    this.catalog = catalog;
  }

  /** Starts one whose tables are at a place. */
  static CatalogServer start(String name, String place, FileIO files) throws Exception {
    JdbcCatalog catalog = new JdbcCatalog(properties -> files, null, true);
    catalog.initialize(
        "server",
        Map.of(
            CatalogProperties.URI,
            "jdbc:h2:mem:catalog" + name + ";DB_CLOSE_DELAY=-1",
            CatalogProperties.WAREHOUSE_LOCATION,
            place,
            "jdbc.schema-version",
            "V1"));
    Server server = new Server(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0));
    CatalogServer started = new CatalogServer(server, catalog);
    ServletContextHandler handler = new ServletContextHandler();
    handler.addServlet(new ServletHolder(started.new Disturbed(catalog)), "/*");
    server.setHandler(handler);
    server.start();
    started.url = "http://127.0.0.1:" + server.getURI().getPort();
    return started;
  }

  /** Its URL. */
  String url() {
    return url;
  }

  /** What those who asked so far gave as their tokens. */
  Set<String> users() {
    return users;
  }

  /** Disturbs all changes from now on. */
  void disturb(Disturbance by) {
    disturbance = by;
  }

  /** Answers no requests of that user any more, as if its process were gone. */
  void kill(String user) {
    dead.add(user);
  }

  /** Answers them again. */
  void revive(String user) {
    dead.remove(user);
  }

  /** Sends the last change that was asked for once more and gives the answer. */
  String replay() throws Exception {
    String[] parts = asked.split("\n", 2);
    return HttpClient.newHttpClient()
        .send(
            HttpRequest.newBuilder(URI.create(url() + parts[0]))
                .header("Content-Type", "application/json")
                .POST(HttpRequest.BodyPublishers.ofString(parts[1]))
                .build(),
            HttpResponse.BodyHandlers.ofString())
        .body();
  }

  /** Disturbs none any more. */
  void calm() {
    disturbance = NONE;
  }

  @Override
  public void close() throws Exception {
    server.stop();
    catalog.close();
  }

  private final class Disturbed extends RESTCatalogServlet {

    private static final long serialVersionUID = 1;

    Disturbed(JdbcCatalog catalog) {
      super(new RESTCatalogAdapter(catalog));
    }

    @Override
    protected void service(HttpServletRequest request, HttpServletResponse response)
        throws ServletException, IOException {
      String user = String.valueOf(request.getHeader("Authorization")).replace("Bearer ", "");
      users.add(user);
      boolean change =
          request.getMethod().equals("POST")
              && request.getRequestURI().matches(".*/namespaces/[^/]+/tables/[^/]+");
      if (dead.contains(user) || change && !disturbance.before(user)) {
        response.sendError(503, "too many requests");
        return;
      }
      if (!change) {
        super.service(request, response);
        return;
      }
      byte[] body = request.getInputStream().readAllBytes();
      asked = request.getRequestURI() + "\n" + new String(body, StandardCharsets.UTF_8);
      Kept answer = new Kept(response);
      super.service(new Repeated(request, body), answer);
      if (!disturbance.after(user) || dead.contains(user)) {
        response.sendError(502, "the answer was lost");
      } else {
        response.getWriter().write(answer.text.toString());
      }
    }
  }

  /** An answer that is not sent yet. */
  private static final class Kept extends HttpServletResponseWrapper {

    private final StringWriter text = new StringWriter();

    Kept(HttpServletResponse response) {
      super(response);
    }

    @Override
    public PrintWriter getWriter() {
      return new PrintWriter(text, true);
    }
  }

  /** A request whose body was read already. */
  private static final class Repeated extends HttpServletRequestWrapper {

    private final byte[] body;

    Repeated(HttpServletRequest request, byte[] body) {
      super(request);
      this.body = body;
    }

    @Override
    public BufferedReader getReader() {
      return new BufferedReader(
          new InputStreamReader(new ByteArrayInputStream(body), StandardCharsets.UTF_8));
    }
  }
}
