package dev.dusky.warehouses;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.merge.MergeTally;
import dev.dusky.core.warehouse.DatabaseSettings;
import dev.dusky.core.warehouse.Warehouse;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The engine on a cluster of this machine: a master and two workers, one of which is killed. */
@Tag("contracts")
class LakeClusterTest extends MergeTesting {

  private static final List<Process> PROCESSES = new ArrayList<>();
  private static Warehouse cluster;
  private static String endpoint;

  @BeforeAll
  static void start() throws IOException {
    Process master =
        begin("org.apache.spark.deploy.master.Master", "--port", "0", "--webui-port", "0");
    String address = "spark://" + said(master, "Starting Spark master at spark://");
    for (int worker = 0; worker < 2; worker++) {
      Process one =
          begin(
              "org.apache.spark.deploy.worker.Worker",
              address,
              "--webui-port",
              "0",
              "--cores",
              "1",
              "--memory",
              "1g",
              "--work-dir",
              Path.of("target", "worker" + worker).toAbsolutePath().toString());
      said(one, "Successfully registered with master ");
    }
    endpoint = TableStore.start(Files.createTempDirectory(Path.of("target"), "store"));
    cluster = OneLake.open(address, TableStore.at(endpoint));
  }

  private static Process begin(String what, String... arguments) throws IOException {
    List<String> command = new ArrayList<>();
    command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
    command.add("-Xmx256m");
    command.add("-cp");
    command.add(OneLake.home().resolve("jars").resolve("*").toString());
    command.add(what);
    command.add("--host");
    command.add("127.0.0.1");
    command.addAll(List.of(arguments));
    ProcessBuilder builder = new ProcessBuilder(command).redirectErrorStream(true);
    builder.environment().put("SPARK_HOME", OneLake.home().toString());
    builder.environment().put("SPARK_LOCAL_IP", "127.0.0.1");
    builder.environment().put("SPARK_SCALA_VERSION", "2.12");
    Process process = builder.start();
    PROCESSES.add(process);
    return process;
  }

  /** The first word behind a text that the process says; what it says later is read away. */
  private static String said(Process process, String text) throws IOException {
    BufferedReader lines =
        new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    for (String line = lines.readLine(); line != null; line = lines.readLine()) {
      int at = line.indexOf(text);
      if (at >= 0) {
        Thread rest = new Thread(() -> lines.lines().forEach(more -> {}));
        rest.setDaemon(true);
        rest.start();
        return line.substring(at + text.length()).strip().split("\\s")[0];
      }
    }
    throw new IllegalStateException("the process ended without saying " + text);
  }

  @AfterAll
  static void stop() {
    PROCESSES.forEach(Process::destroyForcibly);
  }

  @Override
  Warehouse opened() {
    return cluster;
  }

  @Override
  DatabaseSettings address() {
    throw new IllegalStateException("the warehouse is opened already");
  }

  /** The data files of the lost attempt are named by nobody. */
  @Test
  void aMachineThatIsLostWhileItReadsChangesNothingInTheResult(@TempDir Path folder)
      throws IOException {
    LoadOnEngine.check(warehouse, TableStore.PLACE + " " + endpoint, folder, "cluster_read", true);
  }

  @Test
  void aWorkerThatIsKilledChangesNothingInTheResult() {
    tables("k integer, ver integer, v integer", "k integer, ver integer, v integer");
    land(List.of("1, 1, 10", "2, 1, 20"));
    assertEquals(new MergeTally(2, 2, 0, 0, 0, 0, 0, 0), one(merge()).tally());
    land(List.of("1, 2, 11", "3, 1, 30", "3, 1, 30"));
    PROCESSES.get(1).descendants().forEach(ProcessHandle::destroyForcibly);
    PROCESSES.get(1).destroyForcibly();
    assertEquals(new MergeTally(3, 1, 1, 0, 1, 0, 0, 0), one(merge()).tally());
    assertEquals(
        "[[1, 2, 11], [2, 1, 20], [3, 1, 30]]",
        query("select k, ver, v from dairy.target order by k").toString());
  }
}
