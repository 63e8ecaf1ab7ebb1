using Microsoft.Extensions.DependencyInjection;

namespace Narbit.Engine.Proofs;

/// <summary>Proof of step.</summary>
public static class ProofServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddProofs(this IServiceCollection services) => services.AddSingleton<ProofDesk>();
}
