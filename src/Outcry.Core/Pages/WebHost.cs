using System.Globalization;
using System.Text;

namespace Outcry.Core.Pages;

/// <summary>Hosts as they go over the wire (RFC 5890): browsers say them so, and headers hold nothing else.</summary>
public static class WebHost
{
    /// <summary>The address with its host as it goes over the wire.</summary>
    /// <param name="address">Absolute.</param>
    public static Uri OnTheWire(Uri address) =>
        Ascii.IsValid(address.Host) ? address : new UriBuilder(address) { Host = address.IdnHost }.Uri;

    /// <summary>A host as somebody types it, perhaps below "*." or with a port; as it was where it can be none.</summary>
    public static string OnTheWire(string typed)
    {
        if (Ascii.IsValid(typed))
            return typed;
        var below = typed.StartsWith("*.", StringComparison.Ordinal) ? "*." : "";
        var colon = typed.LastIndexOf(':');
        var port = colon < 0 ? "" : typed[colon..];
        try
        {
            return $"{below}{new IdnMapping().GetAscii(typed[below.Length..^port.Length])}{port}";
        }
        catch (ArgumentException)
        {
            return typed;
        }
    }
}
