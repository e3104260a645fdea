package dev.dusky.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.apache.sshd.common.config.keys.PublicKeyEntry;
import org.apache.sshd.common.file.virtualfs.VirtualFileSystemFactory;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;
import org.apache.sshd.sftp.server.SftpSubsystemFactory;
import org.junit.jupiter.api.Test;

/** The built program stages files from web servers, SFTP servers and other stores. */
class StagingFromUrlsIT extends StoreTesting {

  private static final String ROWS = "no,remark,litres\n1,a,2.5\n2,b,3.5\n";

  private static HttpServer web(String path, String query) throws IOException {
    HttpServer web =
        HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 10);
    web.createContext(
        "/",
        exchange -> {
          boolean there =
              exchange.getRequestURI().getPath().equals(path)
                  && query.equals(String.valueOf(exchange.getRequestURI().getQuery()));
          boolean head = exchange.getRequestMethod().equals("HEAD");
          exchange.getResponseHeaders().set("Content-Length", Integer.toString(ROWS.length()));
          exchange.sendResponseHeaders(there ? 200 : 403, there && !head ? ROWS.length() : -1);
          if (there && !head) {
            exchange.getResponseBody().write(ROWS.getBytes());
          }
          exchange.close();
        });
    web.start();
    return web;
  }

  private static void says(Program.Run run, String... words) {
    for (String each : words) {
      assertTrue(run.all().contains(each), run.all());
    }
  }

  @Test
  void aFileBehindASignedUrlIsStagedAndLoaded() throws Exception {
    HttpServer web = web("/out/dockets.csv", "sig=hush");
    String url = "http://127.0.0.1:" + web.getAddress().getPort() + "/out/dockets.csv";
    try {
      dusky.run("stage", "yard", url + "?sig=hush", "--under", "in").expect(0);
      says(dusky.run("load").expect(0), "read 2 = loaded 2");
      Program.Run refused = dusky.run("stage", "yard", url + "?sig=loud");
      assertTrue(refused.expect(4).err().contains("answered 403"), refused.err());
      assertFalse(refused.all().contains("loud"), refused.err());
    } finally {
      web.stop(0);
    }
  }

  @Test
  void filesOfADeclaredSftpServerAreStagedByAPattern() throws Exception {
    Path served = Files.createDirectories(folder.resolve("served/out/day"));
    Files.writeString(served.resolve("a.csv"), ROWS);
    Files.writeString(served.resolve("b.csv"), ROWS.replace("1,a", "3,c"));
    Files.writeString(served.resolve("b.txt"), "no");
    SshServer server = SshServer.setUpDefaultServer();
    server.setHost("127.0.0.1");
    SimpleGeneratorHostKeyProvider keys = new SimpleGeneratorHostKeyProvider();
    keys.setAlgorithm("EC");
    server.setKeyPairProvider(keys);
    server.setPasswordAuthenticator((name, password, session) -> password.equals("hush"));
    server.setSubsystemFactories(List.of(new SftpSubsystemFactory()));
    server.setFileSystemFactory(new VirtualFileSystemFactory(folder.resolve("served")));
    server.start();
    try {
      String place = "sftp://127.0.0.1:" + server.getPort() + "/out";
      dusky
          .file("hush.txt", "hush")
          .file(
              "known",
              "[127.0.0.1]:%d %s\n"
                  .formatted(
                      server.getPort(),
                      PublicKeyEntry.toString(keys.loadKeys(null).iterator().next().getPublic())))
          .file(
              "dusky.yaml",
              Files.readString(folder.resolve("dusky.yaml"))
                  .replace(
                      "layouts:",
                      """
                        partner:
                          at: "%s"
                          credentials: { user: mera, password: file:hush.txt }
                          known-hosts: known
                      layouts:"""
                          .formatted(place)));
      says(dusky.run("probe", "partner").expect(0), "server key SHA256:", "everything passed");
      says(dusky.run("stage", "yard", place + "/day/*.csv", "--under", "in").expect(0), "2 staged");
      says(
          dusky.run("stage", "yard", place + "/day/*.csv", "--under", "in").expect(0),
          "2 there already");
      says(dusky.run("load").expect(0), "loaded 4");
    } finally {
      server.stop(true);
    }
  }

  @Test
  void aUrlThatFailsDoesNotStopTheOthers() throws Exception {
    HttpServer web = web("/out/a.csv", "null");
    try {
      String url = "http://127.0.0.1:" + web.getAddress().getPort() + "/out/";
      says(
          dusky
              .run("stage", "yard", url + "none.csv", url + "a.csv", "http://127.0.0.1:1/x/b.csv")
              .expect(1),
          "1 staged",
          "2 failed",
          "the connection is refused",
          "answered 403");
      assertTrue(Files.exists(folder.resolve("yard/a.csv")));
    } finally {
      web.stop(0);
    }
  }

  @Test
  void filesOfAnotherStoreAreStagedCompressed() throws Exception {
    Files.writeString(folder.resolve("a.csv"), ROWS);
    dusky.run("stage", "store", "a.csv", "--under", "in").expect(0);
    dusky
        .run("stage", "yard", "s3://intake/in/a.csv", "--under", "in", "--compress", "zstd")
        .expect(0);
    assertTrue(Files.exists(folder.resolve("yard/in/a.csv.zst")));
    says(dusky.run("load").expect(0), "read 2 = loaded 2");
    assertEquals(2, dusky.run("stage", "yard", "s3://intake/in/a.csv", "--move").code());
  }
}
