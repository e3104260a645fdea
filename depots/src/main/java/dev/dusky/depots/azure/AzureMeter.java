package dev.dusky.depots.azure;

import com.azure.core.http.HttpHeaderName;
import com.azure.core.http.HttpHeaders;
import com.azure.core.http.HttpMethod;
import com.azure.core.http.HttpPipelineCallContext;
import com.azure.core.http.HttpPipelineNextPolicy;
import com.azure.core.http.HttpPipelineNextSyncPolicy;
import com.azure.core.http.HttpRequest;
import com.azure.core.http.HttpResponse;
import com.azure.core.http.policy.HttpPipelinePolicy;
import dev.dusky.core.usage.Meter;
import dev.dusky.core.usage.Request;
import reactor.core.publisher.Mono;

/**
 * Counts requests and bytes for the meter of the thread that makes them; each attempt is a request,
 * as stores charge for it.
 */
final class AzureMeter implements HttpPipelinePolicy {

  @Override
  public Mono<HttpResponse> process(HttpPipelineCallContext context, HttpPipelineNextPolicy next) {
    count(context.getHttpRequest());
    return next.process().doOnNext(AzureMeter::count);
  }

  @Override
  public HttpResponse processSync(
      HttpPipelineCallContext context, HttpPipelineNextSyncPolicy next) {
    count(context.getHttpRequest());
    HttpResponse response = next.processSync();
    count(response);
    return response;
  }

  private static void count(HttpRequest request) {
    Meter.current()
        .ifPresent(
            meter -> {
              meter.request(kind(request));
              meter.sent(length(request.getHeaders()));
            });
  }

  private static void count(HttpResponse response) {
    if (response.getRequest().getHttpMethod() == HttpMethod.GET) {
      Meter.current().ifPresent(meter -> meter.received(length(response.getHeaders())));
    }
  }

  private static long length(HttpHeaders headers) {
    String length = headers.getValue(HttpHeaderName.CONTENT_LENGTH);
    return length == null ? 0 : Long.parseLong(length);
  }

  private static Request kind(HttpRequest request) {
    String query = String.valueOf(request.getUrl().getQuery());
    return switch (request.getHttpMethod()) {
      case GET, HEAD -> query.contains("comp=list") ? Request.LIST : Request.GET;
      case DELETE -> Request.DELETE;
      default ->
          request.getHeaders().getValue(HttpHeaderName.fromString("x-ms-copy-source")) == null
              ? Request.PUT
              : Request.COPY;
    };
  }
}
