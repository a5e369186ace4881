using System.Net.Mime;
using Outcry.Core.Care;

namespace Outcry.Server.Platform;

/// <summary>Lets only text into the desk that can be stored and read: JSON bodies are mended, addresses with control characters refused.</summary>
internal sealed class TextGate(RequestDelegate next)
{
    public async Task InvokeAsync(HttpContext http)
    {
        if (!IsText(http.Request.Path.Value ?? "") || !IsText(Unescaped(http.Request.QueryString.Value)))
        {
            await Problems.BadField("", "The address holds characters that are no text.").ExecuteAsync(http);
            return;
        }
        if (IsJson(http.Request))
        {
            if (await BodyLimits.TryReadAsync(http.Request, BodyLimits.DeskBytes, http.RequestAborted) is not { } body)
            {
                await Problems.TooLarge(BodyLimits.DeskBytes).ExecuteAsync(http);
                return;
            }
            var clean = JsonGate.Clean(body);
            http.Request.Body = new MemoryStream(clean.ToArray(), writable: false);
            http.Request.ContentLength = clean.Length;
        }
        await next(http);
    }

    private static bool IsJson(HttpRequest request) =>
        !HttpMethods.IsGet(request.Method)
        && request.ContentType?.StartsWith(MediaTypeNames.Application.Json, StringComparison.OrdinalIgnoreCase) == true;

    private static string Unescaped(string? query) =>
        string.IsNullOrEmpty(query) ? "" : Uri.UnescapeDataString(query.Replace('+', ' '));

    private static bool IsText(string text)
    {
        foreach (var rune in text.EnumerateRunes())
            if ((rune.Value < ' ' && rune.Value is not ('\t' or '\n' or '\r')) || PlainText.IsNoncharacter(rune.Value))
                return false;
        return true;
    }
}
