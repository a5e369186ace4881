using System.Net;
using System.Net.Sockets;

namespace Outcry.Server.Platform;

/// <summary>What an address answered, or the sentence that says why it did not.</summary>
/// <param name="Body">The body; empty when there is a fault.</param>
/// <param name="ContentType">Media type without parameters.</param>
/// <param name="Policy">The Content-Security-Policy header, if there was one.</param>
/// <param name="Address">Where the body came from, after redirects.</param>
/// <param name="Fault">Why there is no body; null when there is one.</param>
internal sealed record Fetched(byte[] Body, string ContentType, string? Policy, Uri Address, string? Fault)
{
    public string Text => System.Text.Encoding.UTF8.GetString(Body);
}

/// <summary>What an address answered to what was posted to it.</summary>
/// <param name="Status">The answer's status; null where there was none.</param>
/// <param name="Says">The beginning of the answer, or the sentence that says why there was none.</param>
internal sealed record Posted(int? Status, string Says)
{
    /// <summary>Whether it was taken.</summary>
    public bool IsTaken => Status is >= 200 and <= 299;
}

/// <summary>
/// Fetches addresses that members type, without becoming their arm inside the network: only public addresses are
/// connected to, each redirect is checked anew, and bodies end at a limit.
/// </summary>
internal sealed class SafeFetch : IDisposable
{
    /// <summary>Largest body taken, in bytes.</summary>
    public const int MostBytes = 2 * 1024 * 1024;
    private const int MostRedirects = 5;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(10);

    /// <summary>The whole of a fetch ends by then: names, redirects, and the body to its last byte, however steadily it drips.</summary>
    private static readonly TimeSpan Deadline = TimeSpan.FromSeconds(20);

    /// <summary>After the first seconds a body must have come at this rate, in bytes a second, or it is left.</summary>
    private const int LeastRate = 2_000;
    private static readonly TimeSpan Grace = TimeSpan.FromSeconds(5);

    private readonly HttpClient _http;
    private readonly HashSet<string> _exempt;

    public SafeFetch(IConfiguration configuration)
    {
        // The demo's stand-ins live on this machine; nothing else does.
        _exempt = [.. configuration["Fetch:AllowedPrivateHosts"]?.Split(',', StringSplitOptions.TrimEntries) ?? []];
        _http = new HttpClient(
            new SocketsHttpHandler
            {
                AllowAutoRedirect = false,
                UseCookies = false,
                UseProxy = false,
                AutomaticDecompression = DecompressionMethods.All,
                ConnectTimeout = TimeSpan.FromSeconds(5),
                PooledConnectionLifetime = TimeSpan.FromMinutes(1),
                ConnectCallback = ConnectAsync,
            }
        )
        {
            Timeout = Patience,
        };
        _http.DefaultRequestHeaders.UserAgent.ParseAdd("Outcry/1.0 (+fetches what a member of the site asked for)");
    }

    public async Task<Fetched> GetAsync(string address, CancellationToken stop)
    {
        using var late = CancellationTokenSource.CreateLinkedTokenSource(stop);
        late.CancelAfter(Deadline);
        return await GetAsync(address, late.Token, stop);
    }

    /// <summary>Characters of an answer that are kept.</summary>
    private const int MostSaid = 500;

    /// <summary>Posts JSON. An address that sends on is not followed: what was signed for one is not handed to another.</summary>
    public async Task<Posted> PostAsync(
        string address,
        byte[] json,
        IReadOnlyDictionary<string, string> headers,
        CancellationToken stop
    )
    {
        if (!Uri.TryCreate(address, UriKind.Absolute, out var at) || at.Scheme is not ("http" or "https"))
            return new Posted(null, "This is no address.");
        using var late = CancellationTokenSource.CreateLinkedTokenSource(stop);
        late.CancelAfter(Deadline);
        try
        {
            using var message = new HttpRequestMessage(HttpMethod.Post, at) { Content = new ByteArrayContent(json) };
            message.Content.Headers.ContentType = new("application/json") { CharSet = "utf-8" };
            foreach (var (name, value) in headers)
                message.Headers.TryAddWithoutValidation(name, value);
            using var answer = await _http.SendAsync(message, HttpCompletionOption.ResponseHeadersRead, late.Token);
            var buffer = new byte[MostSaid];
            await using var stream = await answer.Content.ReadAsStreamAsync(late.Token);
            var read = await stream.ReadAtLeastAsync(buffer, MostSaid, throwOnEndOfStream: false, late.Token);
            return new Posted((int)answer.StatusCode, System.Text.Encoding.UTF8.GetString(buffer.AsSpan(0, read)));
        }
        catch (PrivateAddressException)
        {
            return new Posted(null, $"{at.Host} lies inside a private network. Only public addresses are told.");
        }
        catch (HttpRequestException bad)
        {
            return new Posted(
                null,
                bad.InnerException is PrivateAddressException
                    ? $"{at.Host} lies inside a private network. Only public addresses are told."
                    : $"{at.Host} could not be reached: {Said(bad)}."
            );
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            return new Posted(null, $"{at.Host} did not answer in time.");
        }
        catch (IOException)
        {
            return new Posted(null, $"{at.Host} broke off its answer.");
        }
    }

    private async Task<Fetched> GetAsync(string address, CancellationToken inTime, CancellationToken stop)
    {
        if (!Uri.TryCreate(address.Trim(), UriKind.Absolute, out var at) || at.Scheme is not ("http" or "https"))
            return Failed(new Uri("http://invalid/"), "This is no address. Write it with https:// at its beginning.");
        try
        {
            for (var hop = 0; hop <= MostRedirects; hop++)
            {
                if (at.UserInfo.Length > 0)
                    return Failed(at, "Addresses with a user name in them are not fetched.");
                using var answer = await _http.GetAsync(at, HttpCompletionOption.ResponseHeadersRead, inTime);
                if (Next(answer, at) is { } next)
                {
                    if (next.Scheme is not ("http" or "https"))
                        return Failed(at, $"{at.Host} sends on to a {next.Scheme} address, which is not fetched.");
                    at = next;
                    continue;
                }
                return await ReadAsync(answer, at, inTime);
            }
            return Failed(at, $"The address sends on more than {MostRedirects} times.");
        }
        catch (PrivateAddressException)
        {
            return Failed(at, $"{at.Host} lies inside a private network. Only public addresses are fetched.");
        }
        catch (HttpRequestException bad) when (bad.InnerException is PrivateAddressException)
        {
            return Failed(at, $"{at.Host} lies inside a private network. Only public addresses are fetched.");
        }
        catch (HttpRequestException bad)
        {
            return Failed(at, $"{at.Host} could not be reached: {Said(bad)}.");
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            return Failed(
                at,
                $"{at.Host} did not answer within {(inTime.IsCancellationRequested ? Deadline : Patience).TotalSeconds} seconds."
            );
        }
        catch (InvalidDataException)
        {
            return Failed(at, $"{at.Host} answered with a body that is not packed as it says.");
        }
        catch (IOException)
        {
            return Failed(at, $"{at.Host} broke off its answer.");
        }
    }

    public void Dispose() => _http.Dispose();

    private static Uri? Next(HttpResponseMessage answer, Uri at) =>
        (int)answer.StatusCode is >= 300 and <= 399 && answer.Headers.Location is { } location
            ? new Uri(at, location)
            : null;

    private static async Task<Fetched> ReadAsync(HttpResponseMessage answer, Uri at, CancellationToken stop)
    {
        if (!answer.IsSuccessStatusCode)
            return Failed(at, $"{at.Host} answered {(int)answer.StatusCode}.");
        await using var stream = await answer.Content.ReadAsStreamAsync(stop);
        using var body = new MemoryStream();
        var buffer = new byte[16 * 1024];
        var begun = System.Diagnostics.Stopwatch.StartNew();
        while (await stream.ReadAsync(buffer, stop) is var read and > 0)
        {
            if (begun.Elapsed > Grace && body.Length + read < LeastRate * (begun.Elapsed - Grace).TotalSeconds)
                return Failed(at, $"{at.Host} answers too slowly to be read.");
            if (body.Length + read > MostBytes)
                return Failed(at, $"The answer is larger than {MostBytes / 1024 / 1024} MB.");
            body.Write(buffer, 0, read);
        }
        var policy = answer.Headers.TryGetValues("Content-Security-Policy", out var policies)
            ? string.Join(", ", policies)
            : null;
        return new Fetched(body.ToArray(), answer.Content.Headers.ContentType?.MediaType ?? "", policy, at, null);
    }

    // Names are resolved here and the addresses looked at, so that no name can point inwards between check and use.
    private async ValueTask<Stream> ConnectAsync(SocketsHttpConnectionContext context, CancellationToken stop)
    {
        var end = context.DnsEndPoint;
        var addresses = await Dns.GetHostAddressesAsync(end.Host, stop);
        if (!_exempt.Contains($"{end.Host}:{end.Port}") && (addresses.Length == 0 || addresses.Any(IsPrivate)))
            throw new PrivateAddressException();
        var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
        try
        {
            await socket.ConnectAsync(addresses, end.Port, stop);
            return new NetworkStream(socket, ownsSocket: true);
        }
        catch
        {
            socket.Dispose();
            throw;
        }
    }

    /// <summary>Whether an address is one that is not reached over the public internet (IANA special-purpose registries, RFC 6890).</summary>
    internal static bool IsPrivate(IPAddress address)
    {
        if (address.IsIPv4MappedToIPv6)
            address = address.MapToIPv4();
        if (IPAddress.IsLoopback(address) || address.Equals(IPAddress.Any) || address.Equals(IPAddress.IPv6Any))
            return true;
        if (address.AddressFamily == AddressFamily.InterNetworkV6)
            return address.IsIPv6LinkLocal
                || address.IsIPv6SiteLocal
                || address.IsIPv6UniqueLocal
                || address.IsIPv6Multicast
                || Special6.Any(n => n.Contains(address));
        return Special4.Any(n => n.Contains(address));
    }

    private static readonly IPNetwork[] Special4 =
    [
        .. new[]
        {
            "0.0.0.0/8",
            "10.0.0.0/8",
            "100.64.0.0/10",
            "127.0.0.0/8",
            "169.254.0.0/16",
            "172.16.0.0/12",
            "192.0.0.0/24",
            "192.0.2.0/24",
            "192.88.99.0/24",
            "192.168.0.0/16",
            "198.18.0.0/15",
            "198.51.100.0/24",
            "203.0.113.0/24",
            "224.0.0.0/4",
            "240.0.0.0/4",
        }.Select(n => IPNetwork.Parse(n)),
    ];

    // Also the ways in which an inner IPv4 address can be written as an IPv6 one: 6to4, NAT64, Teredo, "::a.b.c.d".
    private static readonly IPNetwork[] Special6 =
    [
        .. new[]
        {
            "::/96",
            "::ffff:0:0:0/96",
            "64:ff9b::/96",
            "64:ff9b:1::/48",
            "100::/64",
            "2001::/32",
            "2001:db8::/32",
            "2002::/16",
            "3fff::/20",
            "5f00::/16",
        }.Select(n => IPNetwork.Parse(n)),
    ];

    private static string Said(HttpRequestException bad) =>
        bad.InnerException is SocketException socket
            ? socket.SocketErrorCode switch
            {
                SocketError.HostNotFound or SocketError.NoData or SocketError.TryAgain => "no such host is known",
                SocketError.ConnectionRefused => "it refused the connection",
                _ => "the connection failed",
            }
        : bad.InnerException is System.Security.Authentication.AuthenticationException ? "its certificate is not valid"
        : "the connection failed";

    private static Fetched Failed(Uri at, string fault) => new([], "", null, at, fault);

    private sealed class PrivateAddressException : Exception;
}
