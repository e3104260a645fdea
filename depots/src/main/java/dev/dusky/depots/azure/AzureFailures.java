package dev.dusky.depots.azure;

import com.azure.core.exception.ClientAuthenticationException;
import com.azure.core.exception.HttpResponseException;
import com.azure.core.http.HttpHeaderName;
import com.azure.core.http.HttpResponse;
import com.azure.storage.blob.models.BlobStorageException;
import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.probe.Causes;
import dev.dusky.depots.probe.ConnectionCause;
import dev.dusky.depots.probe.StoreAnswer;
import dev.dusky.depots.probe.StoreRequest;
import java.io.IOException;
import java.util.LinkedHashSet;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.TimeoutException;
import java.util.function.Supplier;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Says which of endpoint, credentials, container or right is at fault when a request fails. */
final class AzureFailures {

  private static final Pattern MESSAGE = Pattern.compile("(?s)<Message>(.*?)</Message>");

  private final DepotAddress address;
  private final Causes causes;

  AzureFailures(DepotAddress address, String container) {
    this.address = address;
    this.causes =
        new Causes(
            AzureCauses.ALL,
            address,
            container,
            AzureFailures::role,
            () -> address.credentials().words());
  }

  /** The smallest of the usual roles that has a right. */
  private static String role(StoreRequest.Right right) {
    return right == StoreRequest.Right.WRITE
        ? "Storage Blob Data Contributor"
        : "Storage Blob Data Reader";
  }

  /** Does a piece of work; what goes wrong becomes a failure. */
  <T> T call(String doing, StoreRequest.Right right, Supplier<T> work) {
    try {
      return work.get();
    } catch (Failure known) {
      throw known;
    } catch (RuntimeException e) {
      throw of(doing, right, e);
    }
  }

  Failure of(String doing, StoreRequest.Right right, RuntimeException e) {
    boolean signed = !(address.credentials() instanceof Credentials.Anonymous);
    for (Throwable cause = e; cause != null; cause = cause.getCause()) {
      if (cause instanceof Failure known) {
        return known;
      }
      if (cause instanceof ClientAuthenticationException denied) {
        return noToken(denied);
      }
      if (cause instanceof HttpResponseException answer && answer.getResponse() != null) {
        return causes.failure(new StoreRequest(doing, right, signed), answer(answer)).from(e);
      }
      if (cause instanceof IOException || cause instanceof TimeoutException) {
        return ConnectionCause.failure(address, e);
      }
    }
    return Failure.depot(doing + " in depot " + address.name() + " failed")
        .because(String.valueOf(e.getMessage()))
        .hint("Check endpoint: and at: of the depot")
        .from(e);
  }

  Failure unreachable(IOException e) {
    return ConnectionCause.failure(address, e);
  }

  /** No source of tokens has one for us; the client's message lists what it tried. */
  private Failure noToken(ClientAuthenticationException e) {
    Set<String> reasons = new LinkedHashSet<>();
    for (Throwable cause = e; cause != null; cause = cause.getCause()) {
      String line = String.valueOf(cause.getMessage()).strip().replaceAll("\\s+", " ");
      reasons.add(
          line.replaceFirst(" ---> .*", "")
              .replaceFirst(" To mitigate this issue.*", "")
              .replaceFirst(",? see inner exception for more information\\.?", ""));
    }
    String words = String.join("; ", reasons);
    return Failure.depot("Depot " + address.name() + " has no credentials")
        .because(
            address.credentials().words()
                + " gave no token: "
                + (words.length() <= 500 ? words : words.substring(0, 500) + "…"))
        .hint(
            "Give account-key, shared-access or connection-string under credentials: of the depot,"
                + " or log in where the default chain looks; for a public container credentials:"
                + " anonymous")
        .from(e);
  }

  /** The server's own message, without what the client writes around it. */
  private static String said(String message) {
    Matcher own = MESSAGE.matcher(message);
    String text = own.find() ? own.group(1) : message;
    return text.replaceFirst("(?s)\\n?RequestId:.*", "");
  }

  private static StoreAnswer answer(HttpResponseException e) {
    HttpResponse response = e.getResponse();
    String code =
        Optional.ofNullable(response.getHeaderValue(HttpHeaderName.fromString("x-ms-error-code")))
            .orElse(
                e instanceof BlobStorageException blob && blob.getErrorCode() != null
                    ? blob.getErrorCode().toString()
                    : "");
    String says =
        e instanceof BlobStorageException blob && blob.getServiceMessage() != null
            ? blob.getServiceMessage()
            : "";
    return StoreAnswer.of(
        response.getStatusCode(),
        code,
        said(says),
        String.valueOf(e.getValue()),
        name -> Optional.ofNullable(response.getHeaderValue(HttpHeaderName.fromString(name))));
  }
}
