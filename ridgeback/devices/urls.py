from django.urls import path

from ridgeback.devices import views

app_name = "devices"
urlpatterns = [
    path("household/devices/", views.devices, name="list"),
    path("household/device-places/", views.places, name="places"),
    path("household/devices/<int:pk>/", views.device, name="device"),
    path("household/devices/<int:pk>/token/", views.renew, name="renew"),
    path("household/devices/<int:pk>/remove/", views.revoke, name="revoke"),
    path("household/scale-weights/<int:pk>/", views.weight, name="weight"),
    path("household/device-channels/<int:pk>/remove/", views.unbind, name="unbind"),
]
