"""What buttons do on the drive's page: nothing of its own yet; what a motor turns gives the form other fields."""

from yarekeel.web.stages.commands import Command

COMMANDS: tuple[Command, ...] = ()
REDRAWS = ("drive.motors.*.propulsor.kind",)
