using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Microsoft.AspNetCore.DataProtection;
using Outcry.Store;

namespace Outcry.Server.Platform;

/// <summary>
/// The keys that seal cookies, tokens and kept deliveries. They live in the database, so that every node has them, and are
/// encrypted with a key that does not: whoever gets hold of a copy of the database cannot open what they seal.
/// </summary>
internal static class ProtectionKeys
{
    /// <summary>The setting that names the file with the outer key (PKCS #12); made at the first start where it is not there yet.</summary>
    private const string Setting = "Keys:File";

    private static readonly TimeSpan Life = TimeSpan.FromDays(20 * 365);

    public static void AddProtectionKeys(this WebApplicationBuilder builder)
    {
        var protection = builder.Services.AddDataProtection().SetApplicationName("outcry");
        if (PlatformFeature.IsDocumentBuild)
        {
            protection.UseEphemeralDataProtectionProvider();
            return;
        }
        protection.PersistKeysToDbContext<OutcryDb>();
        if (builder.Configuration[Setting] is { Length: > 0 } file)
            protection.ProtectKeysWithCertificate(Open(file));
    }

    private static X509Certificate2 Open(string file)
    {
        if (!File.Exists(file))
            Make(file);
        return X509CertificateLoader.LoadPkcs12FromFile(file, null);
    }

    private static void Make(string file)
    {
        using var key = RSA.Create(3072);
        var request = new CertificateRequest("CN=Outcry", key, HashAlgorithmName.SHA256, RSASignaturePadding.Pkcs1);
        using var made = request.CreateSelfSigned(DateTimeOffset.UtcNow.AddDays(-1), DateTimeOffset.UtcNow + Life);
        var options = new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.Write };
        // For the account that Outcry runs under, and nobody else.
        if (!OperatingSystem.IsWindows())
            options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        try
        {
            using var stream = new FileStream(file, options);
            stream.Write(made.Export(X509ContentType.Pkcs12));
        }
        catch (IOException) when (File.Exists(file))
        {
            // Another node on this machine was quicker.
        }
    }
}
