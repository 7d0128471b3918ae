/** The systemd unit of the service. */

const quoted = (text) => `"${text.replace(/[\\"]/g, '\\$&').replace(/%/g, '%%')}"`

/** @param options {root, node, user, host?, port?} */
export function unitText({ root, node, user, host = '0.0.0.0', port = '8420' }) {
  return `[Unit]
Description=Steady Heron, a desk for robotic cameras
Documentation=file://${root}/docs/running.md
After=network-online.target
Wants=network-online.target

[Service]
Type=exec
User=${user}
Group=${user}
# Serial ports.
SupplementaryGroups=dialout
WorkingDirectory=${root}
ExecStart=${quoted(node)} scripts/start.mjs --empty
Environment=NODE_ENV=production HOST=${host} PORT=${port} HERON_DATA=/var/lib/${user}
StateDirectory=${user}
StateDirectoryMode=0750

Restart=always
RestartSec=2
# All are asked to end: the server stops the cameras, and the guardian stays until that is done. Not "mixed",
# which would kill the guardian with the start command.
KillMode=control-group
TimeoutStopSec=10
OOMPolicy=continue
# The hands' packets go before other work of this computer.
Nice=-5

NoNewPrivileges=yes
ProtectSystem=strict
ProtectHome=read-only
PrivateTmp=yes
ProtectKernelTunables=yes
ProtectKernelModules=yes
ProtectKernelLogs=yes
ProtectControlGroups=yes
ProtectClock=yes
ProtectHostname=yes
RestrictAddressFamilies=AF_UNIX AF_INET AF_INET6 AF_NETLINK
RestrictNamespaces=yes
RestrictSUIDSGID=yes
RestrictRealtime=yes
LockPersonality=yes
CapabilityBoundingSet=
AmbientCapabilities=
SystemCallArchitectures=native
UMask=0077

[Install]
WantedBy=multi-user.target
`
}
