from django.urls import path

from ridgeback.larder import views

app_name = "larder"
urlpatterns = [path("larder/", views.larder, name="larder"), path("larder/<int:pk>/", views.move, name="move")]
