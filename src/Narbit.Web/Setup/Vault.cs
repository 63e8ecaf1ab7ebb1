using System.Security.Cryptography;
using System.Text.Json;
using Microsoft.AspNetCore.DataProtection;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Engine.Systems;

namespace Narbit.Web.Setup;

/// <summary>
/// Keeps credentials encrypted with ASP.NET Core data protection; the keys lie in the data folder, apart from the database.
/// </summary>
internal sealed class Vault(IDataProtectionProvider protection) : ICredentialVault
{
    private readonly IDataProtector _protector = protection.CreateProtector("Narbit.Credential.v1");

    public string Protect(Credential credential) =>
        _protector.Protect(JsonSerializer.Serialize(new Kept(credential.User, credential.Secret)));

    public Outcome<Credential> Open(string protectedCredential)
    {
        try
        {
            var kept = JsonSerializer.Deserialize<Kept>(_protector.Unprotect(protectedCredential))!;
            return new Credential(kept.User, kept.Secret);
        }
        catch (CryptographicException)
        {
            return new Reason(
                "credential.locked",
                "The stored credentials can no longer be decrypted (the keys in the data folder have changed). Enter them again "
                    + "under Systems."
            );
        }
    }

    private sealed record Kept(string? User, string Secret);
}
