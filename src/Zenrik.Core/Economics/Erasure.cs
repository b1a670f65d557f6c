namespace Zenrik.Core.Economics;

/// <summary>How storage that leaves the house is made unreadable (NIST SP 800-88 Revision 1, from memory).</summary>
public enum ErasureMethod
{
    /// <summary>Overwrite or reset by the ordinary commands: keeps out keyboards and recovery programs.</summary>
    Clear,

    /// <summary>The drive's own erase, or throwing its encryption key away: keeps out laboratories.</summary>
    Purge,

    /// <summary>Shred, pulverise or melt: nothing is left to read or to use.</summary>
    Destroy,
}

public enum StorageKind
{
    /// <summary>Flash with a controller of its own: NVMe, SATA, soldered modules.</summary>
    SolidState,
    Magnetic,

    /// <summary>Flash whose content was always encrypted by the machine, as on managed Chromebooks.</summary>
    EncryptedAlways,
}

/// <summary>What the storage held.</summary>
public enum DataHeld
{
    /// <summary>Nothing but what anybody may read.</summary>
    Public,

    /// <summary>Ordinary work and pupils' work.</summary>
    Internal,

    /// <summary>Health, welfare, personnel, examination papers.</summary>
    Confidential,
}

/// <summary>A method and why.</summary>
/// <param name="Least">The least that will do.</param>
public sealed record ErasureAdvice(ErasureMethod Least, string Reason);

public static class Erasure
{
    /// <summary>
    /// The least method by the decision flow of NIST SP 800-88 Revision 1, figure 4-1 (from memory): low (public) and
    /// moderate (ordinary work) storage is cleared while it stays in the house and purged when it leaves; high
    /// (confidential) is purged in the house and destroyed when it leaves; what is moderate or high and not used again is
    /// destroyed. Storage that does not answer, or that nobody may get at, can only be destroyed, whatever it held.
    /// </summary>
    /// <param name="reused">False when nobody is to use the storage again.</param>
    /// <param name="reachable">False when the machine is neither switched on nor opened: it is set apart as dangerous.</param>
    public static ErasureAdvice Advise(
        StorageKind kind,
        DataHeld held,
        bool leavesHouse,
        bool answers,
        bool reused = true,
        bool reachable = true
    ) =>
        !reachable
            ? new(ErasureMethod.Destroy, "A machine set apart as dangerous is neither switched on nor opened for it.")
        : !answers ? new(ErasureMethod.Destroy, "It does not answer, so nothing but destroying it can be proved.")
        : held == DataHeld.Public
            ? leavesHouse ? new(ErasureMethod.Purge, "It leaves the house.")
                : new(ErasureMethod.Clear, "Nothing in it is secret, and it stays in the house.")
        : !reused ? new(ErasureMethod.Destroy, "It held work and is not used again.")
        : held == DataHeld.Internal
            ? leavesHouse ? new(ErasureMethod.Purge, "It held ordinary work and leaves the house.")
                : new(
                    ErasureMethod.Clear,
                    kind == StorageKind.EncryptedAlways
                        ? "Always encrypted, and it stays in the house: a reset throws the key away."
                        : "It held ordinary work and stays in the house."
                )
        : leavesHouse ? new(ErasureMethod.Destroy, "It held what is confidential and leaves the house.")
        : new(ErasureMethod.Purge, "It held what is confidential: beyond the reach of a laboratory.");

    /// <summary>Whether a method is enough.</summary>
    public static bool Suffices(ErasureMethod chosen, ErasureAdvice advice) => chosen >= advice.Least;
}
