using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Adapters.Describing;
using Narbit.Adapters.Rest;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Systems;

namespace Narbit.Engine.Systems;

/// <summary>Keeps credentials encrypted. The host decides how.</summary>
public interface ICredentialVault
{
    /// <summary>Encrypts a credential.</summary>
    string Protect(Credential credential);

    /// <summary>Decrypts a credential, or says why that is no longer possible.</summary>
    Outcome<Credential> Open(string protectedCredential);
}
