package dev.dusky.standin;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.net.http.HttpResponse;
import java.net.http.HttpTimeoutException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The protocol as a bare HTTP client sees it. */
class StandInTest {

  @TempDir Path folder;
  private StandIn store;
  private SignedClient client;

  @BeforeEach
  void start() throws Exception {
    store = StandIn.start(folder, "key", "secret", 0);
    client = new SignedClient(store.endpoint(), "key", "secret");
    assertEquals(200, client.send("PUT", "/intake", "").statusCode());
  }

  @AfterEach
  void stop() {
    store.close();
  }

  private String code(HttpResponse<String> answer) {
    return answer.body().replaceAll("(?s).*<Code>(.*)</Code>.*", "$1");
  }

  @Test
  void objectsArePutReadAndRemoved() throws Exception {
    HttpResponse<String> put =
        client.send("PUT", "/intake/a%20b/c.csv", "1,a\n", Map.of("x-amz-meta-note", "hello"));
    assertEquals(200, put.statusCode());
    HttpResponse<String> got = client.send("GET", "/intake/a%20b/c.csv", "");
    assertEquals("1,a\n", got.body());
    assertEquals(put.headers().firstValue("etag"), got.headers().firstValue("etag"));
    HttpResponse<String> head = client.send("HEAD", "/intake/a%20b/c.csv", "");
    assertEquals("hello", head.headers().firstValue("x-amz-meta-note").orElseThrow());
    assertEquals(204, client.send("DELETE", "/intake/a%20b/c.csv", "").statusCode());
    assertEquals("NoSuchKey", code(client.send("GET", "/intake/a%20b/c.csv", "")));
  }

  @Test
  void rangesAndConditionsAreKept() throws Exception {
    HttpResponse<String> put = client.send("PUT", "/intake/a", "0123456789");
    String etag = put.headers().firstValue("etag").orElseThrow();
    HttpResponse<String> part = client.send("GET", "/intake/a", "", Map.of("Range", "bytes=3-5"));
    assertEquals(206, part.statusCode());
    assertEquals("345", part.body());
    assertEquals("bytes 3-5/10", part.headers().firstValue("content-range").orElseThrow());
    assertEquals("789", client.send("GET", "/intake/a", "", Map.of("Range", "bytes=7-")).body());
    assertEquals(
        416, client.send("GET", "/intake/a", "", Map.of("Range", "bytes=10-")).statusCode());
    assertEquals(200, client.send("GET", "/intake/a", "", Map.of("If-Match", etag)).statusCode());
    assertEquals(
        412, client.send("GET", "/intake/a", "", Map.of("If-Match", "\"x\"")).statusCode());
  }

  @Test
  void aStoreThatKnowsNoConditionsRefusesWritesWithThem() throws Exception {
    store.faults().unconditional();
    Map<String, String> condition = Map.of("If-None-Match", "*");
    assertEquals(501, client.send("PUT", "/intake/a", "0123", condition).statusCode());
    assertEquals(200, client.send("PUT", "/intake/a", "0123").statusCode());
    Map<String, String> match = Map.of("If-Match", "\"x\"");
    assertEquals(412, client.send("GET", "/intake/a", "", match).statusCode(), "a read");
    store.faults().clear();
    assertEquals(200, client.send("PUT", "/intake/b", "0123", condition).statusCode());
  }

  @Test
  void listingsComeInPages() throws Exception {
    for (int i = 0; i < 7; i++) {
      client.send("PUT", "/intake/d/" + i, "x");
    }
    client.send("PUT", "/intake/e", "x");
    String first = client.send("GET", "/intake?list-type=2&max-keys=3&prefix=d%2F", "").body();
    assertTrue(first.contains("<IsTruncated>true"), first);
    assertTrue(first.contains("<Key>d/0</Key>") && !first.contains("d/3"), first);
    String token = first.replaceAll("(?s).*<NextContinuationToken>(.*?)<.*", "$1");
    String second =
        client
            .send(
                "GET",
                "/intake?continuation-token="
                    + token.replace("=", "%3D")
                    + "&list-type=2&max-keys=3&prefix=d%2F",
                "")
            .body();
    assertTrue(second.contains("<Key>d/3</Key>") && second.contains("d/5"), second);
    assertTrue(!second.contains("<Key>d/2</Key>") && !second.contains("d/6"), second);
  }

  @Test
  void aDelimiterGroupsKeys() throws Exception {
    for (String key : new String[] {"a/1", "a/2", "b/1", "top"}) {
      client.send("PUT", "/intake/" + key, "x");
    }
    String list = client.send("GET", "/intake?delimiter=%2F&list-type=2", "").body();
    assertTrue(list.contains("<CommonPrefixes><Prefix>a/</Prefix></CommonPrefixes>"), list);
    assertTrue(list.contains("<KeyCount>3</KeyCount>"), list);
    assertTrue(list.contains("<Key>top</Key>") && !list.contains("<Key>a/1"), list);
  }

  @Test
  void objectsInPartsArePutTogether() throws Exception {
    String begun = client.send("POST", "/intake/big?uploads=", "").body();
    String id = begun.replaceAll("(?s).*<UploadId>(.*)</UploadId>.*", "$1");
    client.send("PUT", "/intake/big?partNumber=2&uploadId=" + id, "world");
    client.send("PUT", "/intake/big?partNumber=1&uploadId=" + id, "hello ");
    String parts =
        "<CompleteMultipartUpload><Part><PartNumber>1</PartNumber></Part>"
            + "<Part><PartNumber>2</PartNumber></Part></CompleteMultipartUpload>";
    String done = client.send("POST", "/intake/big?uploadId=" + id, parts).body();
    assertTrue(done.contains("-2\""), done);
    assertEquals("hello world", client.send("GET", "/intake/big", "").body());
    assertEquals("NoSuchUpload", code(client.send("POST", "/intake/big?uploadId=" + id, parts)));
  }

  @Test
  void requestsMustBeSignedWithTheRightKeys() throws Exception {
    String endpoint = store.endpoint();
    assertEquals(
        "InvalidAccessKeyId",
        code(new SignedClient(endpoint, "other", "secret").send("GET", "/intake/a", "")));
    assertEquals(
        "SignatureDoesNotMatch",
        code(new SignedClient(endpoint, "key", "wrong").send("GET", "/intake/a", "")));
    assertEquals(403, SignedClient.unsigned(endpoint + "/intake/a").statusCode());
  }

  @Test
  void bytesMustBeThoseAnnounced() throws Exception {
    assertEquals(
        "BadDigest",
        code(
            client.send(
                "PUT", "/intake/a", "x", Map.of("Content-MD5", "AAAAAAAAAAAAAAAAAAAAAA=="))));
    assertEquals(
        "XAmzContentSHA256Mismatch", code(client.sendOtherBytes("/intake/a", "announced", "sent")));
  }

  @Test
  void bucketsMustExistAndHaveProperNames() throws Exception {
    assertEquals("NoSuchBucket", code(client.send("GET", "/nowhere/a", "")));
    assertEquals("InvalidBucketName", code(client.send("PUT", "/No", "")));
  }

  @Test
  void whatIsStoredOutlivesTheServer() throws Exception {
    client.send("PUT", "/intake/%C3%A4/b", "kept".repeat(3));
    store.close();
    store = StandIn.start(folder, "key", "secret", 0);
    SignedClient again = new SignedClient(store.endpoint(), "key", "secret");
    assertEquals("keptkeptkept", again.send("GET", "/intake/%C3%A4/b", "").body());
  }

  @Test
  void faultsAreSwitchable() throws Exception {
    client.send("PUT", "/intake/a", "0123456789");
    store.faults().unavailable(2);
    assertEquals(503, client.send("GET", "/intake/a", "").statusCode());
    assertEquals(503, client.send("GET", "/intake/a", "").statusCode());
    assertEquals(200, client.send("GET", "/intake/a", "").statusCode());
    store.faults().cut(1, 4);
    assertThrows(IOException.class, () -> client.send("GET", "/intake/a", ""));
    assertEquals("0123456789", client.send("GET", "/intake/a", "").body());
    for (Faults.Right right : Arrays.asList(Faults.Right.values())) {
      store.faults().deny(right);
    }
    assertEquals("AccessDenied", code(client.send("GET", "/intake?list-type=2", "")));
    assertEquals("AccessDenied", code(client.send("GET", "/intake/a", "")));
    assertEquals("AccessDenied", code(client.send("PUT", "/intake/a", "x")));
    store.faults().clear();
    store.faults().latency(Duration.ofHours(1));
    assertThrows(HttpTimeoutException.class, () -> client.sendImpatiently("GET", "/intake/a", ""));
    store.faults().clear();
    assertEquals(200, client.send("GET", "/intake/a", "").statusCode());
  }
}
