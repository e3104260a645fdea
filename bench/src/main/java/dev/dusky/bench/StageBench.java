package dev.dusky.bench;

import com.github.luben.zstd.ZstdOutputStream;
import dev.dusky.app.stage.StageStream;
import dev.dusky.app.workspace.Workspace;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.split.PartCompression;
import dev.dusky.core.split.RecordForm;
import dev.dusky.core.split.SplitPlan;
import dev.dusky.core.stage.LocalFile;
import dev.dusky.core.stage.LocalFiles;
import dev.dusky.core.stage.SplitStager;
import dev.dusky.core.stage.StageListener;
import dev.dusky.core.stage.StagePlan;
import dev.dusky.core.stage.Stager;
import dev.dusky.core.stream.RollPolicy;
import dev.dusky.core.stream.StreamListener;
import dev.dusky.core.stream.StreamName;
import dev.dusky.core.stream.StreamStager;
import dev.dusky.core.table.TableName;
import dev.dusky.standin.StandIn;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.SequenceInputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Random;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicLong;
import java.util.stream.Stream;
import software.amazon.awssdk.auth.credentials.AwsBasicCredentials;
import software.amazon.awssdk.auth.credentials.StaticCredentialsProvider;
import software.amazon.awssdk.core.checksums.RequestChecksumCalculation;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.services.s3.S3AsyncClient;
import software.amazon.awssdk.services.s3.S3Configuration;
import software.amazon.awssdk.transfer.s3.S3TransferManager;
import software.amazon.awssdk.transfer.s3.model.FileUpload;

/** Staging one large file and many small ones, cutting and compressing, and a stream. */
final class StageBench {

  private static final int LARGE = 100_000_000;
  private static final int SMALL = 200;
  private static final int CONNECTIONS = 4;
  private static final int PUSHED = 100;
  private static final long PUSHED_NANOS = 8_000_000_000L;

  private static final StageListener SILENT =
      new StageListener() {
        @Override
        public void sent(long bytes) {}

        @Override
        public void done(LocalFile file, Outcome outcome, String why) {
          if (outcome != Outcome.STAGED) {
            throw new IllegalStateException(file.path() + " " + outcome + " " + why);
          }
        }
      };

  private final Path folder;
  private final Path csv;
  private final Random random = new Random(7);

  StageBench(Path folder, Path csv) {
    this.folder = folder;
    this.csv = csv;
  }

  void run() throws Exception {
    Files.createDirectories(folder.resolve("buckets/bench"));
    try (StandIn store = StandIn.start(folder.resolve("buckets"), "key", "secret", 0);
        Depot depot = BenchDepots.store(store.endpoint());
        S3AsyncClient client = client(store.endpoint());
        S3TransferManager vendor = S3TransferManager.builder().s3Client(client).build()) {
      byte[] large = new byte[LARGE];
      random.nextBytes(large);
      Files.write(Files.createDirectories(folder.resolve("large")).resolve("a.bin"), large);
      upload("1 x 100 MB", "large", depot, vendor);
      Path small = Files.createDirectories(folder.resolve("small"));
      for (int i = 0; i < SMALL; i++) {
        byte[] bytes = new byte[1000];
        random.nextBytes(bytes);
        Files.write(small.resolve("%03d.bin".formatted(i)), bytes);
      }
      upload("200 x 1 kB", "small", depot, vendor);
    }
    compress();
    stream();
    pushed();
  }

  /** Batches of 100 records of 1 kB over HTTP from four clients, each answered once durable. */
  private void pushed() throws Exception {
    Path place = Files.createDirectories(folder.resolve("pushed"));
    Files.writeString(
        place.resolve("dusky.yaml"),
        "warehouse: jdbc:h2:file:./warehouse\ndepots: { yard: \"file:yard\" }\n");
    Files.writeString(place.resolve("secret"), "word");
    try (Workspace workspace = new Workspace(place.resolve("dusky.yaml"))) {
      StageStream stream =
          new StageStream(
              workspace, "yard", "ev-{n}.jsonl.zst", Optional.empty(), Optional.empty());
      HttpRequest.BodyPublisher batch =
          HttpRequest.BodyPublishers.ofString(
              ("{\"n\":1,\"text\":\"" + "Wrenfold milk ".repeat(70) + "\"}\n").repeat(PUSHED));
      AtomicLong kept = new AtomicLong();
      AtomicBoolean stop = new AtomicBoolean();
      List<Thread> clients = new ArrayList<>();
      StreamStager.Result result =
          stream.listen(
              "127.0.0.1:0",
              "file:secret",
              port -> {
                for (int i = 0; i < CONNECTIONS; i++) {
                  clients.add(new Thread(() -> push(port, batch, kept, stop)));
                  clients.get(i).start();
                }
                new Thread(() -> report(clients, kept, stop)).start();
              },
              silent(),
              stop::get);
      if (result.records() != kept.get()) {
        throw new IllegalStateException(result.records() + " staged, " + kept + " answered for");
      }
    }
  }

  private static void push(
      int port, HttpRequest.BodyPublisher batch, AtomicLong kept, AtomicBoolean stop) {
    HttpClient client = HttpClient.newHttpClient();
    HttpRequest request =
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:%d/records".formatted(port)))
            .header("Authorization", "Bearer word")
            .POST(batch)
            .build();
    long end = System.nanoTime() + PUSHED_NANOS;
    try {
      while (System.nanoTime() < end) {
        if (client.send(request, HttpResponse.BodyHandlers.discarding()).statusCode() == 200) {
          kept.addAndGet(PUSHED);
        }
      }
    } catch (IOException | InterruptedException e) {
      throw new IllegalStateException("a push failed", e);
    }
  }

  private static void report(List<Thread> clients, AtomicLong kept, AtomicBoolean stop) {
    long start = System.nanoTime();
    try {
      for (Thread client : clients) {
        client.join();
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    System.out.printf(
        "  records pushed over HTTP in batches of %d: %,.0f records/s%n",
        PUSHED, kept.get() / ((System.nanoTime() - start) / 1e9));
    stop.set(true);
  }

  private static S3AsyncClient client(String endpoint) {
    return S3AsyncClient.builder()
        .multipartEnabled(true)
        .endpointOverride(URI.create(endpoint))
        .region(Region.US_EAST_1)
        .forcePathStyle(true)
        .credentialsProvider(
            StaticCredentialsProvider.create(AwsBasicCredentials.create("key", "secret")))
        .serviceConfiguration(S3Configuration.builder().chunkedEncodingEnabled(false).build())
        .requestChecksumCalculation(RequestChecksumCalculation.WHEN_REQUIRED)
        .build();
  }

  private void upload(String what, String local, Depot depot, S3TransferManager vendor)
      throws Exception {
    List<LocalFile> files = LocalFiles.find(List.of(folder.resolve(local)), local, file -> true);
    StagePlan plan = new StagePlan(false, CONNECTIONS, 0, false);
    new Turns(2, 7)
        .compare(
            "staging " + what,
            () -> new Stager(depot, plan).run(files, SILENT),
            "the vendor's upload library",
            () -> {
              List<FileUpload> uploads = new ArrayList<>();
              for (LocalFile file : files) {
                uploads.add(
                    vendor.uploadFile(
                        u ->
                            u.source(file.file())
                                .putObjectRequest(r -> r.bucket("bench").key(file.path()))));
              }
              uploads.forEach(upload -> upload.completionFuture().join());
            },
            () -> depot.list("").forEachRemaining(depot::remove));
  }

  private void compress() throws Exception {
    Path yard = Files.createDirectories(folder.resolve("yard"));
    SplitPlan split = new SplitPlan(OptionalLong.of(16_000_000), PartCompression.ZSTD);
    StagePlan plan = new StagePlan(true, CONNECTIONS, 0, false);
    RecordForm form =
        new RecordForm(
            BenchFeed.of("bench", "x", new TableName("bench", "docket")).layout(),
            Optional.empty());
    try (Depot depot = BenchDepots.directory(yard)) {
      new Turns(2, 7)
          .compare(
              "cutting, compressing and staging",
              () ->
                  new SplitStager(depot, plan, split, file -> form, SILENT)
                      .run(List.of(LocalFile.of(csv, "dockets.csv"))),
              "zstd of the same file on one thread",
              () -> {
                try (OutputStream out =
                    new ZstdOutputStream(Files.newOutputStream(folder.resolve("bare.zst")))) {
                  Files.copy(csv, out);
                }
              },
              () -> empty(yard));
    }
  }

  private static void empty(Path yard) throws IOException {
    try (Stream<Path> files = Files.list(yard)) {
      for (Path file : files.toList()) {
        Files.delete(file);
      }
    }
  }

  /** Records of 1 kB as fast as they are taken. */
  private void stream() throws Exception {
    byte[] record =
        ("{\"n\":1,\"text\":\"" + "Wrenfold milk ".repeat(70) + "\"}\n")
            .getBytes(StandardCharsets.UTF_8);
    int block = 1_000;
    byte[] records = new byte[block * record.length];
    for (int i = 0; i < block; i++) {
      System.arraycopy(record, 0, records, i * record.length, record.length);
    }
    int blocks = 500;
    Path yard = Files.createDirectories(folder.resolve("streamed"));
    try (Depot depot = BenchDepots.directory(yard)) {
      for (int turn = 0; turn < 3; turn++) {
        List<InputStream> all = new ArrayList<>();
        for (int i = 0; i < blocks; i++) {
          all.add(new ByteArrayInputStream(records));
        }
        long start = System.nanoTime();
        StreamStager.Result result =
            new StreamStager(
                    depot,
                    folder.resolve("spool"),
                    new StreamName("ev-{n}.jsonl.zst"),
                    new RollPolicy(64_000_000, Duration.ofMinutes(1)),
                    turn == 2,
                    silent(),
                    () -> false)
                .run(new SequenceInputStream(Collections.enumeration(all)));
        double seconds = (System.nanoTime() - start) / 1e9;
        System.out.printf(
            "  a stream of %,d records of %,d bytes%s: %,.0f records/s%n",
            result.records(),
            record.length,
            turn == 2 ? ", as JSON values" : "",
            result.records() / seconds);
      }
    }
  }

  private static StreamListener silent() {
    return new StreamListener() {
      @Override
      public void staged(String path, long records, long bytes) {}

      @Override
      public void remark(String what) {
        throw new IllegalStateException(what);
      }

      @Override
      public void waiting(String path, String why) {
        throw new IllegalStateException(why);
      }
    };
  }
}
