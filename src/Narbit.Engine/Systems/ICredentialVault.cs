using Narbit.Adapters;
using Narbit.Core;

namespace Narbit.Engine.Systems;

/// <summary>Keeps credentials encrypted. The host decides how.</summary>
public interface ICredentialVault
{
    /// <summary>Encrypts a credential.</summary>
    string Protect(Credential credential);

    /// <summary>Decrypts a credential, or says why that is no longer possible.</summary>
    Outcome<Credential> Open(string protectedCredential);
}
