from hypothesis import HealthCheck, settings

# a busy machine is no fault of the code
settings.register_profile("loaded", suppress_health_check=[HealthCheck.too_slow], deadline=None)
settings.load_profile("loaded")
