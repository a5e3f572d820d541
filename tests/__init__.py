from hypothesis import HealthCheck, settings

settings.register_profile("loaded", suppress_health_check=[HealthCheck.too_slow], deadline=None)  # a busy machine is no fault of the code
settings.load_profile("loaded")
