package dev.dusky.cli;

import static dev.dusky.cli.CommandsIT.CONFIG;
import static dev.dusky.cli.CommandsIT.GOOD;
import static dev.dusky.cli.CommandsIT.HEADER;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.cli.Program.Run;
import dev.dusky.standin.Faults;
import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Random;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Each bad input: a message with the place and the remedy, the right exit code, nothing lost. */
class BadInputIT {

  @TempDir Path folder;
  private Program dusky;

  @BeforeEach
  void configure() throws IOException {
    Files.createDirectories(folder.resolve("intake"));
    dusky = Program.within(folder).file("dusky.yaml", CONFIG);
  }

  private Run failed(int code, String message, String... args) throws Exception {
    Run run = dusky.run(args).expect(code);
    assertTrue(run.all().contains(message), () -> message + " is missing in\n" + run.all());
    assertFalse(run.all().contains("\tat "), run::all);
    return run;
  }

  private long rows() throws Exception {
    Run run = dusky.run("sql", "--json", "select count(*) as n from intake.collection").expect(0);
    return Long.parseLong(run.out().replaceAll("\\D", ""));
  }

  /** A bad file beside a good one: the bad one is refused with a message, the good one posted. */
  private Run refused(byte[] bytes, String message) throws Exception {
    Files.write(folder.resolve("intake/bad.csv"), bytes);
    dusky.file("intake/good.csv", GOOD);
    Run run = failed(1, message, "load");
    assertTrue(run.out().contains("refused   bad.csv"), run.out());
    assertTrue(run.out().contains("posted    good.csv"), run.out());
    assertEquals(2, rows());
    return run;
  }

  @Test
  void aMisspeltKey() throws Exception {
    dusky.file("dusky.yaml", CONFIG.replace("tolerance", "tolerence"));
    failed(
        3,
        "line 13: feed collections has no key 'tolerence'; the nearest known one is 'tolerance'",
        "load");
  }

  @Test
  void aMissingKey() throws Exception {
    dusky.file("dusky.yaml", CONFIG.replace("    into: intake.collection\n", ""));
    failed(3, "feed collections needs the key into", "load");
  }

  @Test
  void twoFeedsOfOneName() throws Exception {
    dusky.file("dusky.yaml", CONFIG + CONFIG.substring(CONFIG.indexOf("  collections:")));
    failed(3, "'collections' is declared a second time, first on line 7", "load");
  }

  @Test
  void noConfiguration() throws Exception {
    failed(3, "Write one with 'dusky init'", "load", "--config", "none.yaml");
  }

  @Test
  void anUnknownFeedOptionOrCommand() throws Exception {
    failed(2, "Did you mean 'collections'?", "load", "collection");
    failed(2, "Unknown option: '--swift'", "load", "--swift");
    failed(2, "lod", "lod");
  }

  @Test
  void aMissingDirectory() throws Exception {
    Files.delete(folder.resolve("intake"));
    failed(4, "is not a directory", "load");
  }

  @Test
  void depotsOfTheS3ProtocolWithEachRightMissing() throws Exception {
    Files.createDirectories(folder.resolve("buckets/intake"));
    try (StandIn store = StandIn.start(folder.resolve("buckets"), "key", "hush-hush", 0)) {
      String config =
          CONFIG.replace(
              "\"file:./intake\"",
              "{ at: \"s3://intake/daily\", endpoint: \"%s\", access-key: file:yard.key,"
                      .formatted(store.endpoint())
                  + " secret-key: file:yard.secret }");
      dusky.file("out/a.csv", GOOD);
      dusky.file("dusky.yaml", config.replace("file:yard.key", "env:YARD_KEY"));
      failed(3, "the environment variable YARD_KEY is not set", "load");
      dusky.env("YARD_KEY", "key").file("yard.secret", "hush-hush");
      dusky.run("stage", "yard", "out").expect(0);
      dusky.env("YARD_KEY", null);
      dusky.file("dusky.yaml", config).file("yard.key", "other");
      failed(4, "does not know the access key", "load");
      dusky.file("yard.key", "key").file("yard.secret", "wrong");
      failed(4, "does not accept the secret key", "load");
      dusky.file("yard.secret", "hush-hush");
      dusky.file("dusky.yaml", config.replace("s3://intake", "s3://nowhere"));
      failed(4, "has no bucket 'nowhere'", "load");
      dusky.file("dusky.yaml", config.replace(store.endpoint(), "http://127.0.0.1:1"));
      failed(4, "cannot be reached", "load");
      dusky.file("dusky.yaml", config);
      store.faults().deny(Faults.Right.LIST);
      failed(4, "denies the right to list files", "load");
      store.faults().clear();
      store.faults().deny(Faults.Right.READ);
      failed(4, "denies the right to read files", "load");
      Run probe = failed(4, "1 check failed", "probe", "yard");
      assertTrue(
          probe.out().matches("(?s).*feed \\w+ +failed .*denies the right to read.*"), probe.out());
      assertTrue(probe.out().matches("(?s).*write +passed.*"), probe.out());
      store.faults().clear();
      Run load = dusky.run("load").expect(0);
      assertFalse(load.all().contains("hush-hush"));
    }
    assertEquals(2, rows());
    assertTrue(dusky.run("journal").expect(0).out().contains("failed"));
  }

  @Test
  void anEmptyFile() throws Exception {
    refused(new byte[0], "bad.csv is empty");
  }

  @Test
  void aHeaderAlone() throws Exception {
    refused(HEADER.getBytes(), "bad.csv has no rows");
  }

  @Test
  void aHeaderThatLacksAColumn() throws Exception {
    refused("docket_no,farm_code,collected_at\n1,a,\n".getBytes(), "'litres' not found");
  }

  @Test
  void aFileOfAnotherFeed() throws Exception {
    refused("FARM|NAME\nWF1|Brook\n".getBytes(), "looks like a file of another feed");
  }

  @Test
  void aBinaryFile() throws Exception {
    byte[] bytes = new byte[5000];
    new Random(1).nextBytes(bytes);
    bytes[100] = 0;
    refused(bytes, "is not text in the declared encoding");
  }

  private byte[] gzip(int rows) throws IOException {
    Path file = folder.resolve("packed.gz");
    try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(file))) {
      out.write(HEADER.getBytes());
      for (int i = 0; i < rows; i++) {
        out.write((i + ",WF" + i % 977 + ",02/03/2026 05:46,1.5\n").getBytes());
      }
    }
    return Files.readAllBytes(file);
  }

  @Test
  void aCutGzip() throws Exception {
    byte[] whole = gzip(50_000);
    refused(Arrays.copyOf(whole, whole.length / 2), "the gzip data ends too early");
  }

  @Test
  void aGzipBomb() throws Exception {
    Path file = folder.resolve("bomb.gz");
    byte[] same = new byte[1 << 20];
    Arrays.fill(same, (byte) 'x');
    try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(file))) {
      out.write(HEADER.getBytes());
      for (int i = 0; i < 300; i++) {
        out.write(same);
      }
    }
    refused(Files.readAllBytes(file), "the limit is 250 to 1");
  }

  @Test
  void moreThanTheMemoryWithoutALineEnd() throws Exception {
    Path file = folder.resolve("intake/bad.csv");
    byte[] same = new byte[1 << 20];
    Arrays.fill(same, (byte) 'x');
    try (OutputStream out = Files.newOutputStream(file)) {
      out.write(HEADER.getBytes());
      for (int i = 0; i < 160; i++) {
        out.write(same);
      }
      out.write(("\n1,WF1,02/03/2026 05:46,1\n").getBytes());
    }
    dusky.javaOptions("-Xmx96m");
    Run load = dusky.run("load").expect(0);
    assertTrue(load.out().contains("read 2 = loaded 1 + duplicate 0 + rejected 1"), load.out());
    Run rejects = dusky.run("rejects").expect(0);
    assertTrue(rejects.out().contains("record-too-large"), rejects.out());
    Files.delete(file);
  }

  @Test
  void textNumbersAndDatesThatDoNotFit() throws Exception {
    dusky.file("dusky.yaml", CONFIG.replace("tolerance: 1", "tolerance: any"));
    byte[] bytes =
        (HEADER
                + "99999999999999999999,WF1,02/03/2026 05:46,1\n"
                + "2,far too long,02/03/2026 05:46,1\n"
                + "3,WF3,31/02/2026 05:46,1\n"
                + "4,W?,02/03/2026 05:46,1\n"
                + "5,WF5,02/03/2026 05:46,123456789.5\n"
                + "6,\"WF6\"x,02/03/2026 05:46,1\n"
                + "7,WF7,02/03/2026 05:46,1\n")
            .getBytes();
    for (int i = 0; i < bytes.length; i++) {
      bytes[i] = bytes[i] == '?' ? (byte) 0xe9 : bytes[i];
    }
    Files.write(folder.resolve("intake/a.csv"), bytes);
    Run load = dusky.run("load").expect(0);
    assertTrue(load.out().contains("read 7 = loaded 1 + duplicate 0 + rejected 6"), load.out());
    String rejects = dusky.run("rejects", "--list", "20").expect(0).out();
    for (String code :
        new String[] {
          "out-of-range", "text-too-long", "bad-timestamp", "bad-encoding", "broken-quote"
        }) {
      assertTrue(rejects.contains(code), rejects);
    }
    assertTrue(rejects.contains("is out of range for bigint (-9223372036854775808 to"), rejects);
  }

  @Test
  void aMissingTableAndATableThatLacksAColumn() throws Exception {
    dusky.file("dusky.yaml", CONFIG.replace("create: true", "create: false"));
    dusky.file("intake/a.csv", GOOD);
    failed(5, "Table intake.collection of feed collections does not exist", "load");
    dusky.run("sql", "create schema intake").expect(0);
    dusky
        .run("sql", "create table intake.collection (docket_no integer, farm_code varchar(8))")
        .expect(0);
    Run run = failed(5, "column collected_at does not exist in the table", "load");
    assertTrue(run.err().contains("column docket_no is integer in the table"), run.err());
    assertTrue(run.err().contains("column litres does not exist"), run.err());
  }

  @Test
  void aWarehouseThatDoesNotAnswer() throws Exception {
    dusky.file(
        "dusky.yaml",
        CONFIG.replace("jdbc:h2:file:./warehouse", "jdbc:postgresql://127.0.0.1:1/x"));
    failed(5, "does not answer", "load");
  }

  @Test
  void aDiskThatIsFull() throws Exception {
    StringBuilder text = new StringBuilder(HEADER);
    for (int i = 0; i < 30_000; i++) {
      text.append(i).append(",WF").append(i % 9999).append(",02/03/2026 05:46,1.5\n");
    }
    dusky.file("intake/a.csv", GOOD);
    dusky.run("load").expect(0);
    dusky.file("intake/b.csv", text.toString());
    // No file may grow beyond 1 MiB: the kernel refuses the write as it does on a full disk.
    dusky.behind("bash", "-c", "ulimit -f 1024; exec \"$@\"", "limited");
    Run run = failed(5, "the database file cannot be written", "load");
    assertTrue(run.err().contains("Check disk space"), run.err());
    dusky.behind();
    assertEquals(2, rows());
    assertTrue(dusky.run("load").expect(0).out().contains("loaded 30 000"));
    assertEquals(30_002, rows());
    dusky.run("balance").expect(0);
  }

  @Test
  void aStatementThatIsWrong() throws Exception {
    failed(5, "The statement failed", "sql", "select from nowhere at all");
  }

  @Test
  void stackTracesOnlyWithDebug() throws Exception {
    Files.delete(folder.resolve("intake"));
    assertTrue(dusky.run("load", "--debug").expect(4).err().contains("\tat dev.dusky"));
  }
}
