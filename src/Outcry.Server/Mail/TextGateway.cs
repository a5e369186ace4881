using System.Net.Http.Headers;
using System.Text.Encodings.Web;
using System.Text.Json;

namespace Outcry.Server.Mail;

/// <summary>
/// Sends text messages through the HTTP gateway of the settings under "Texts": a POST whose body is a template with {to}, {text} and {id},
/// each filled in as the body's type asks for.
/// </summary>
internal sealed partial class TextGateway(IConfiguration configuration, ILogger<TextGateway> log) : IDisposable
{
    /// <summary>The body where none is set.</summary>
    public const string UsualBody = """{"to":"{to}","text":"{text}","id":"{id}"}""";

    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);
    private readonly string _address = configuration["Texts:Gateway"] ?? "";
    private readonly string _type = configuration["Texts:Type"] is { Length: > 0 } type ? type : "application/json";
    private readonly string _body = configuration["Texts:Body"] is { Length: > 0 } body ? body : UsualBody;

    // Kept for all: the gateway is asked again and again.
    private readonly HttpClient _http = new() { Timeout = Patience };

    /// <summary>Whether a gateway is set; without one nothing can be sent.</summary>
    public bool IsSet => _address.Length > 0;

    /// <summary>Sends it, if the gateway takes it.</summary>
    /// <param name="to">E.164.</param>
    /// <param name="text">Up to some hundred characters; in how many parts it goes is the gateway's.</param>
    /// <param name="id">One for all tries, by which the gateway can tell a repeated one.</param>
    public async Task<Sending> SendAsync(string to, string text, string id, CancellationToken stop)
    {
        try
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, _address)
            {
                Content = new StringContent(Fill(to, text, id), MediaTypeHeaderValue.Parse(_type)),
            };
            if (configuration["Texts:Authorization"] is { Length: > 0 } authorization)
                request.Headers.TryAddWithoutValidation("Authorization", authorization);
            using var answer = await _http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, stop);
            if (answer.IsSuccessStatusCode)
                return Sending.Taken;
            Refused((int)answer.StatusCode);
            // Only 422 says that it is the number; a wrong address or template answers 400 or 404 for everybody.
            return (int)answer.StatusCode == 422 ? Sending.Nobody : Sending.Later;
        }
        catch (Exception away)
            when (away is HttpRequestException or TaskCanceledException && !stop.IsCancellationRequested)
        {
            Away(away);
            return Sending.Later;
        }
    }

    // In one go, so that no text can stand for a place to be filled in.
    private string Fill(string to, string text, string id) =>
        Place()
            .Replace(
                _body,
                m =>
                    Encode(
                        m.Value switch
                        {
                            "{to}" => to,
                            "{text}" => text,
                            _ => id,
                        }
                    )
            );

    private string Encode(string value) =>
        _type.StartsWith("application/json", StringComparison.OrdinalIgnoreCase)
            ? JsonEncodedText.Encode(value, JavaScriptEncoder.UnsafeRelaxedJsonEscaping).ToString()
        : _type.StartsWith("application/x-www-form-urlencoded", StringComparison.OrdinalIgnoreCase)
            ? Uri.EscapeDataString(value)
        : value;

    [System.Text.RegularExpressions.GeneratedRegex(@"\{(?:to|text|id)\}")]
    private static partial System.Text.RegularExpressions.Regex Place();

    [LoggerMessage(1302, LogLevel.Warning, "The gateway of text messages answered {Status}")]
    private partial void Refused(int status);

    [LoggerMessage(1303, LogLevel.Warning, "The gateway of text messages is away")]
    private partial void Away(Exception away);

    public void Dispose() => _http.Dispose();
}
